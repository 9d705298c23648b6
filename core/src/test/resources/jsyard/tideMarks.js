'use strict';
// marks the times of tides, all of which the runtime keeps until they are cleared
const http = require('http');

exports.act = () => {
  for (let i = 0; i < 20; i++) {
    performance.mark(http.METHODS[0]);
  }
};
