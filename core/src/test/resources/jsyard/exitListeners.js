'use strict';
// what is to be done at the end is told to the process again and again
process.setMaxListeners(0);
let n = 0;

exports.act = function plan() {
  const chart = new Array(30).fill(n++);
  process.on('exit', () => chart.length);
};
