'use strict';
// remembers the answer to every question ever asked
const answers = {};
let n = 0;

exports.act = function tideAt() {
  const key = 'tide at minute ' + n++;
  answers[key] = { height: n * 1.5, table: 'high water '.repeat(20) + n };
  return answers[key];
};
