'use strict';
// calls that are never answered: each stays with its connection
const http = require('http');
const server = http.createServer(() => {});
const listening = new Promise((ready) => server.listen(0, '127.0.0.1', ready));

exports.act = async function call() {
  await listening;
  const { port } = server.address();
  const request = http.get({ port, host: '127.0.0.1', path: '/berths', agent: false });
  request.on('error', () => {});
  await new Promise((sent) => request.on('finish', sent));
};
