'use strict';
// The harbour office of Port Merrow as a Node.js service. A day passes for each request to /day.
// Departed vessel calls stay subscribed to the tide board, unless it is started with --fixed.
const http = require('http');
const fs = require('fs');
const path = require('path');
const { EventEmitter } = require('events');

const CALLS_A_DAY = 40;
const fixed = process.argv.includes('--fixed');

class CargoLine {
  constructor(goods, crates) {
    this.goods = goods;
    this.crates = crates;
  }
}

class VesselCall {
  constructor(vessel, berth) {
    this.vessel = vessel;
    this.berth = berth;
    this.manifest = [];
    for (let i = 0; i < 8; i++) {
      this.manifest.push(new CargoLine('goods of ' + vessel + ', lot ' + i, 1 + (i % 5)));
    }
  }
}

// subscribers of the tide board are never taken off it
const tideBoard = new EventEmitter();
tideBoard.setMaxListeners(0);

// large, and always the same
const charts = [];
for (let sheet = 0; sheet < 12; sheet++) {
  charts.push({ title: 'Approaches, sheet ' + (sheet + 1), depths: new Float64Array(20000) });
}

// bounded, and full after a few days
const eventLog = [];
function note(event) {
  eventLog.push(event);
  if (eventLog.length > 300) {
    eventLog.shift();
  }
}

let day = 0;
let vessels = 0;

function arrive(berth) {
  const call = new VesselCall('MV Example ' + ++vessels, berth);
  call.onTide = function onTide(height) {
    call.lastTide = height;
  };
  tideBoard.on('tide', call.onTide);
  note('arrived: ' + call.vessel);
  return call;
}

function leave(call) {
  if (fixed) {
    tideBoard.off('tide', call.onTide);
  }
  note('left: ' + call.vessel);
}

function runDay() {
  day++;
  const inHarbour = [];
  for (let i = 0; i < CALLS_A_DAY; i++) {
    inHarbour.push(arrive(i % 12));
  }
  tideBoard.emit('tide', 300 + (day % 7) * 20);
  inHarbour.forEach(leave);
  return 'day ' + day + ': ' + inHarbour.length + ' vessels';
}

function file(name, type, response) {
  response.setHeader('Content-Type', type);
  response.end(fs.readFileSync(path.join(__dirname, name)));
}

const server = http.createServer((request, response) => {
  const where = request.url.split('?')[0];
  if (where === '/day') {
    response.end(runDay() + '\n');
  } else if (where === '/') {
    file('board.html', 'text/html; charset=utf-8', response);
  } else if (where === '/board.js') {
    file('board.js', 'text/javascript; charset=utf-8', response);
  } else {
    response.statusCode = 404;
    response.end('Port Merrow knows no ' + where + '\n');
  }
});
server.listen(0, '127.0.0.1', () => {
  console.log('Port Merrow is open at http://127.0.0.1:' + server.address().port + '/');
});
