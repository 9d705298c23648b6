'use strict';
// subscriptions to a stream that are never ended
const { Subject, map } = require('rxjs');
const heights = new Subject();
let n = 0;
class Display { constructor(i) { this.number = i; this.text = new Array(40).fill('tide ' + i); } show(h) { this.text[0] = h; } }
exports.act = () => { const display = new Display(n++); heights.pipe(map((h) => h + 1)).subscribe((h) => display.show(h)); heights.next(n); };
exports.release = () => { heights.observers.length = 0; heights.currentObservers = null; };
