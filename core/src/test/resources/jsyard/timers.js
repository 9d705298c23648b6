'use strict';
// a reminder for each vessel, which nobody clears
class Reminder {
  constructor(vessel) {
    this.vessel = vessel;
    this.text = 'tide for ' + vessel;
    this.log = new Array(30).fill(vessel);
  }
}
let n = 0;

exports.act = function remind() {
  const reminder = new Reminder('vessel ' + n++);
  setInterval(function ring() {
    reminder.log.length;
  }, 3600000).unref();
};
