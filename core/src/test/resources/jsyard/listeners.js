'use strict';
// every request subscribes to the tide board and never leaves it
const { EventEmitter } = require('events');

const tideBoard = new EventEmitter();
tideBoard.setMaxListeners(0);
let calls = 0;

exports.act = function handleRequest() {
  const manifest = new Array(40).fill('crate of call ' + calls++);
  tideBoard.on('tide', function onTide() {
    return manifest.length;
  });
};
