'use strict';
// a cache with a bound that is reached late
const { LRUCache } = require('lru-cache');
const known = new LRUCache({ max: 60 });
let n = 0;
exports.act = () => { for (let i = 0; i < 2; i++) known.set('day ' + n, { day: n++, heights: new Array(20).fill(n) }); };
