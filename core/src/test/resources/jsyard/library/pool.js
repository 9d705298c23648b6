'use strict';
// borrowed and never given back
const { createPool } = require('generic-pool');
class Launch { constructor(i) { this.number = i; this.tank = new Array(50).fill(i); } }
let n = 0;
class Pier { constructor() { this.launches = createPool({ create: async () => new Launch(n++), destroy: async () => {} }, { max: 100000 }); } }
const pier = new Pier();
exports.act = async () => { await pier.launches.acquire(); };
exports.release = null;
