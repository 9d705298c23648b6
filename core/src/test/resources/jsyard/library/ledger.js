'use strict';
// pages of a ledger that another file has, which no variable refers to
class Page {
  constructor(number) {
    this.number = number;
    this.lines = ['berth ' + number, 'tide of ' + number];
  }
}
let n = 0;
exports.act = () => {
  require('./pages').all.push(new Page(n++));
};
exports.release = () => {
  require('./pages').all = [];
};
