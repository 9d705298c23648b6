'use strict';
// subscriptions that end
const { Subject } = require('rxjs');
const heights = new Subject();
let n = 0;
exports.act = () => { const log = []; const s = heights.subscribe((h) => log.push(h)); heights.next(n++); s.unsubscribe(); };
