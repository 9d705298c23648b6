'use strict';
// all who unload wait for one word that is never said
const gate = new Promise(() => {});
let n = 0;

async function unload(crates) {
  await gate;
  return crates;
}

exports.act = function arrive() {
  unload(new Array(80).fill('crate ' + n++));
};
