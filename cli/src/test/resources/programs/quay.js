'use strict';
// A service whose every count is known: N crates for each request to /load/N, kept.
const http = require('http');

class Crate {
  constructor(n) {
    this.mark = 'crate ' + n;
  }
}
const stock = [];
const stamps = new WeakMap();

function unload(count) {
  for (let i = 0; i < count; i++) {
    const crate = new Crate(stock.length);
    stock.push(crate);
    stamps.set(crate, { stamped: stock.length });
  }
  // what is made and lost at once
  return new Array(count).fill(0).map((_, i) => new Crate(i)).length;
}

const server = http.createServer((request, response) => {
  const match = /^\/load\/([0-9]+)$/.exec(request.url);
  response.end(match ? 'lost ' + unload(Number(match[1])) + '\n' : 'quay\n');
});
server.listen(0, '127.0.0.1', () => console.log('http://127.0.0.1:' + server.address().port));
