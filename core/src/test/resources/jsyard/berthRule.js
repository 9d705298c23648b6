'use strict';
// a rule that may change while the office is open
const lengths = Array.from({ length: 200 }, (_, i) => ({ berth: i, metres: i * 2 }));

exports.length = (berth) => lengths[berth].metres;
