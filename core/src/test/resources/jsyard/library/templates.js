'use strict';
// partial templates that are registered with each call
const handlebars = require('handlebars');
let n = 0;
exports.act = () => { handlebars.registerPartial('vessel ' + n, 'Vessel {{name}} of call ' + n++ + ' '.repeat(500)); };
exports.release = () => { handlebars.partials = {}; };
