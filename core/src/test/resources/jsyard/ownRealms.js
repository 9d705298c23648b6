'use strict';
// realms for scripts of others; Node.js notes each, which keeps none of them
const vm = require('vm');
const realms = [];

exports.act = function open() {
  realms.push(vm.createContext({ harbour: 'Port Merrow' }));
};
