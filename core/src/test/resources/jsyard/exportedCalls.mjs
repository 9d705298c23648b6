// calls that other modules read, and nobody takes out
class Call {
  constructor(n) {
    this.ship = 'ship ' + n;
    this.papers = new Array(50).fill(this.ship);
  }
}
let n = 0;

export const calls = [];

export function take() {
  calls.push(new Call(n++));
}
