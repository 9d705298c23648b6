'use strict';
// keyed by an object that is new each time: nothing is ever found again
class Berth {
  constructor(number) {
    this.number = number;
  }
}
class Occupancy {
  constructor(vessel) {
    this.vessel = vessel;
    this.notes = ['arrived', 'moored ' + vessel];
  }
}
const occupied = new Map();
let n = 0;

exports.act = function moor() {
  occupied.set(new Berth(n % 5), new Occupancy('vessel ' + n++));
};
