'use strict';
// subscribers of a store, one for each view
const { legacy_createStore } = require('redux');
const store = legacy_createStore((state = { calls: 0 }, action) => (action.type === 'call' ? { calls: state.calls + 1 } : state));
let n = 0;
class View { constructor(i) { this.number = i; this.rows = new Array(40).fill(i); } draw() { this.rows[0]++; } }
exports.act = () => { const view = new View(n++); store.subscribe(() => view.draw()); store.dispatch({ type: 'call' }); };
exports.release = null;
