'use strict';
// makes much and keeps nothing
exports.act = function churn() {
  const list = [];
  for (let i = 0; i < 500; i++) {
    list.push({ i, text: 'crate ' + i });
  }
  return list.length;
};
