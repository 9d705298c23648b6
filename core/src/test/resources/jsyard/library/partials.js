'use strict';
// partial templates that are registered with each call, by a package that no variable refers to
let n = 0;
exports.act = () => {
  require('handlebars').registerPartial('vessel ' + n, 'Vessel {{name}} of call ' + n++ + ' '.repeat(500));
};
exports.release = () => {
  require('handlebars').partials = {};
};
