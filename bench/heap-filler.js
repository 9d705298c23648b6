'use strict';
// Fills a Node.js heap with a mixture of objects and writes a heap snapshot: node heap-filler.js
// VESSELS FILE. 350,000 vessels make some four million objects and 300 MB.
const [vessels, file] = [Number(process.argv[2]), process.argv[3]];

class Vessel {
  constructor(n) {
    this.name = 'vessel ' + n;
    this.serial = n;
    this.log = [
      { at: n, what: 'call ' + (n % 1000) },
      { at: n + 1, what: 'leave' },
    ];
    this.tags = { draught: n + 0.5, berth: 'b' + n };
  }
}

const register = new Map();
for (let i = 0; i < vessels; i++) {
  register.set('v' + i, new Vessel(i));
}
require('v8').writeHeapSnapshot(file);
console.log(register.size);
