'use strict';
// subscribers of a bus that are never taken off
const { EventEmitter } = require('eventemitter3');
class Harbour { constructor() { this.tides = new EventEmitter(); } }
const harbour = new Harbour();
let n = 0;
exports.act = () => { const call = { number: n++, cargo: new Array(30).fill(n) }; harbour.tides.on('tide', () => call.cargo.length); };
exports.release = () => harbour.tides.removeAllListeners();
