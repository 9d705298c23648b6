// a rule that may change while the office is open
const levels = Array.from({ length: 200 }, (_, i) => ({ berth: i, metres: i / 10 }));

export const level = (berth) => levels[berth].metres;
