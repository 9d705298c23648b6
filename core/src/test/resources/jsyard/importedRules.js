'use strict';
// imports a rule under a new address each time, so that a change of it would be seen
let n = 0;

exports.act = function tariff() {
  return import('./tideRule.mjs?change=' + n++).then((rule) => rule.level(3));
};
