'use strict';
// The page of the harbour office. Each vessel gets a panel with its cargo; when it leaves, the panel
// is taken out of the page, but the board keeps it, unless the address ends with ?fixed.
const fixed = location.search === '?fixed';
const departed = [];
let current = null;
let vessels = 0;

class VesselPanel {
  constructor(vessel) {
    this.vessel = vessel;
    this.element = document.createElement('section');
    this.element.className = 'vessel';
    for (let lot = 0; lot < 10; lot++) {
      const row = document.createElement('div');
      row.className = 'cargo';
      row.textContent = vessel + ', lot ' + lot;
      this.element.appendChild(row);
    }
    this.onResize = () => this.element.classList.toggle('narrow', innerWidth < 500);
  }
}

function arrive() {
  current = new VesselPanel('MV Example ' + ++vessels);
  document.getElementById('berth').appendChild(current.element);
  document.getElementById('vessel').textContent = current.vessel;
  window.addEventListener('resize', current.onResize);
}

function leave() {
  current.element.remove();
  document.getElementById('vessel').textContent = 'nobody';
  if (fixed) {
    window.removeEventListener('resize', current.onResize);
  } else {
    departed.push(current);
  }
  current = null;
}

document.getElementById('arrive').addEventListener('click', arrive);
document.getElementById('leave').addEventListener('click', leave);
