'use strict';
// a server for every call, none of which is closed
const net = require('net');
let n = 0;

exports.act = async function open() {
  const notes = new Array(100).fill('call ' + n++);
  const server = net.createServer((socket) => notes.push(socket));
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));
  server.unref();
};
