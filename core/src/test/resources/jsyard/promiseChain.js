'use strict';
// every job waits for the one before, the first of which never ends
const first = new Promise(() => {});
let tail = first;
class Job {
  constructor(n) {
    this.name = 'job ' + n;
    this.load = new Array(40).fill(n);
  }
}
let n = 0;

exports.act = function enqueue() {
  const job = new Job(n++);
  tail = tail.then(() => job.load);
  return tail === first;
};
