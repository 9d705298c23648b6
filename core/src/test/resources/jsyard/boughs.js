'use strict';
// a tree whose nodes know each other, grown at a place far from its stem
class Bough {
  constructor(parent) {
    this.parent = parent;
    this.children = [];
    this.leaves = new Array(20).fill('leaf');
  }
}
let place = new Bough(null);
let n = 0;

exports.act = function grow() {
  for (let i = 0; i < 10; i++) {
    const bough = new Bough(place);
    place.children.push(bough);
    place = n++ % 20 === 19 ? bough : place;
  }
};
