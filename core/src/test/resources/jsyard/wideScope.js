'use strict';
// a bundle: one scope with very many classes that have no names
const fs = require('fs');
const os = require('os');
const path = require('path');
const CLASSES = 4000;
let first = null;

exports.act = function load() {
  if (first === null) {
    const lines = [];
    for (let i = 0; i < CLASSES; i++) {
      lines.push(`const c${i} = (0, class { turn() { return c${(i + 1) % CLASSES}; } });`);
    }
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), 'wide-scope-'));
    fs.writeFileSync(path.join(folder, 'bundle.js'), lines.join('\n') + '\nexports.some = [c0, c1];');
    first = require(path.join(folder, 'bundle.js'));
    fs.rmSync(folder, { recursive: true });
  }
  return first;
};
