'use strict';
// each watch starts from the one before and keeps it
const { AsyncLocalStorage } = require('async_hooks');

const watch = new AsyncLocalStorage();
let current = { officer: 'first', before: null };
let n = 0;

exports.act = function changeWatch() {
  current = watch.run(current, () => {
    const before = watch.getStore();
    return { officer: 'officer ' + n++, before, notes: 'n'.repeat(200) + n };
  });
};
