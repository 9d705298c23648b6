'use strict';
// each timer has a delay of its own, so each is in a list of its own
class Tide {
  constructor(number) {
    this.heights = new Array(4).fill(number + 0.5);
  }
}
let n = 0;

exports.act = function remind() {
  const tide = new Tide(n);
  setTimeout(function ring() {
    tide.heights.length;
  }, 3600000 + n++).unref();
};
