'use strict';
// deep inside one object of settings and state
const office = { name: 'Port Merrow', desk: { inbox: { letters: [] }, clock: { hour: 0 } } };
let n = 0;

exports.act = function post() {
  office.desk.inbox.letters.push({ to: 'pilot ' + n, text: 'come '.repeat(30) + n++ });
};
