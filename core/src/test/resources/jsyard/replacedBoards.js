'use strict';
// each new board's function has the board before it in its scope, though it never uses it
class TideBoard {
  constructor(n, say) {
    this.heights = new Array(20).fill(n);
    this.say = say;
  }
}
let board = null;
let n = 0;

exports.act = replace;
function replace() {
  const before = board;
  const asBefore = () => before && before.heights;
  board = new TideBoard(n++, () => 'calm');
  return asBefore;
}
