'use strict';
// Runs one small program: "act N" does its action N times, "dump FILE" writes a heap snapshot,
// "release" empties the holder at fault.
const readline = require('readline');
const v8 = require('v8');

const program = require('./' + process.argv[2] + '.js');

async function settle() {
  for (let i = 0; i < 4; i++) {
    await new Promise((resolve) => setImmediate(resolve));
  }
}

async function obey(line) {
  const [word, rest] = line.split(' ');
  if (word === 'act') {
    for (let i = 0; i < Number(rest); i++) {
      await program.act();
    }
  } else if (word === 'release') {
    await program.release();
  } else {
    await settle();
    global.gc();
    v8.writeHeapSnapshot(rest);
  }
  await settle();
  console.log('done');
}

let last = Promise.resolve();
readline.createInterface({ input: process.stdin }).on('line', (line) => {
  last = last.then(() => obey(line));
});
console.log('ready');
