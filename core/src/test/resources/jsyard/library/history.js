'use strict';
// every state of the past, in an immutable list
const { List, Record } = require('immutable');
const State = Record({ number: 0, berths: null });
let past = List();
let n = 0;
exports.act = () => { past = past.push(State({ number: n, berths: new Array(30).fill(n++) })); };
exports.release = () => { past = List(); };
