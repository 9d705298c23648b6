'use strict';
// what an ECMAScript module exports lies in none of its scopes
const office = import('./exportedAgain.mjs');

exports.act = async function call() {
  (await office).take();
};
