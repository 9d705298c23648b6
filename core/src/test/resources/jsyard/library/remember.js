'use strict';
// a function that remembers the answer to every question
const _ = require('lodash');
const forecast = _.memoize((day) => ({ day, heights: new Array(25).fill(day) }), (day) => 'day ' + day);
let n = 0;
exports.act = () => { forecast(n++); forecast(-n); };
exports.release = () => forecast.cache.clear();
