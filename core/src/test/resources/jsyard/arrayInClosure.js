'use strict';
// an array that only one function can see
class Entry {
  constructor(n) {
    this.line = 'log line ' + n;
    this.when = { day: n, hour: n % 24 };
  }
}

function openLog() {
  const entries = [];
  return function writeLog(n) {
    entries.push(new Entry(n));
    return entries.length;
  };
}
const log = openLog();
let n = 0;

exports.act = function note() {
  log(n++);
};
