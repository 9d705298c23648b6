'use strict';
// a module variable collects functions, each of which keeps what was around it
let pending = [];
let serial = 0;

exports.act = function berthVessel() {
  const logBook = { name: 'vessel ' + serial, pages: 'p'.repeat(300) + serial++ };
  pending.push(() => logBook.name);
};
