'use strict';
// a log that forgets, and a cache that is full
const log = [];
const cache = new Map();
let n = 0;

exports.act = function note() {
  for (let i = 0; i < 40; i++) {
    log.push({ line: 'entry ' + n++ });
    cache.set(n % 60, { value: 'v' + n });
  }
  while (log.length > 100) {
    log.shift();
  }
};
