'use strict';
// what an ECMAScript module exports lies in none of its scopes
const office = import('./exportedCalls.mjs');

exports.act = async function call() {
  (await office).take();
};
