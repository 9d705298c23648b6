'use strict';
// an assignment without a declaration, of old
let n = 0;
globalThis.harbourCharts = {};

exports.act = function chart() {
  globalThis.harbourCharts['sheet ' + n] = Buffer.alloc(2000 + (n++ % 7), 1).toString('latin1');
};
