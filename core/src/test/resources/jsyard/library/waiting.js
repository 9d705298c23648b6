'use strict';
// promises of a library that nobody fulfils
const Promise = require('bluebird');
const waiting = [];
let n = 0;
exports.act = () => { const call = { number: n++, cargo: new Array(30).fill('crate') }; waiting.push(new Promise(() => {}).then(() => call)); };
exports.release = () => { waiting.length = 0; };
