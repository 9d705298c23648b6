'use strict';
// every ship is in two tables, and is taken out of neither
class Ship {
  constructor(n) {
    this.name = 'ship ' + n;
    this.log = new Array(10).fill(n);
  }
}
const byNumber = new Map();
const byName = new Map();
let n = 0;

exports.act = function enrol() {
  const ship = new Ship(n++);
  byNumber.set(n, ship);
  byName.set(ship.name, ship);
};
