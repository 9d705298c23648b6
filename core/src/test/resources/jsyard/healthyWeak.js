'use strict';
// notes hang on objects that go
const notes = new WeakMap();
const recent = [];

exports.act = function visit() {
  for (let i = 0; i < 30; i++) {
    const vessel = { name: 'vessel ' + i };
    notes.set(vessel, { text: 'n'.repeat(100) + i });
    recent.push(vessel);
  }
  recent.splice(0, recent.length - 20);
};
