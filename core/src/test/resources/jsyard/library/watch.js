'use strict';
// reactions to an observable value, one for each call
const { observable, autorun } = require('mobx');
const tide = observable({ height: 1 });
let n = 0;
exports.act = () => { const log = new Array(40).fill('log ' + n++); autorun(() => { log[0] = tide.height; }); };
exports.release = null;
