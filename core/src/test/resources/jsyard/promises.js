'use strict';
// pilots wait for an answer that never comes
class PilotOrder {
  constructor(n) {
    this.order = 'pilot for call ' + n;
    this.papers = new Array(50).fill(this.order);
  }
}
const waiting = [];
let n = 0;

exports.act = function orderPilot() {
  const order = new PilotOrder(n++);
  (async function pilotComes() {
    await new Promise((resolve) => waiting.push(resolve));
    return order.papers;
  })();
};
