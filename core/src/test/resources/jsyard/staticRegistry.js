'use strict';
// a class keeps all its objects
class Vessel {
  static all = [];

  constructor(n) {
    this.name = 'vessel ' + n;
    this.cargo = new Array(25).fill(this.name);
    Vessel.all.push(this);
  }
}
let n = 0;

exports.act = function call() {
  new Vessel(n++);
};
