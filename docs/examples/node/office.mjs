// The harbour office of Port Merrow, as small as can be.
import { EventEmitter } from 'node:events';

export class VesselCall {
  constructor(vessel) {
    this.vessel = vessel;
    this.manifest = Array.from({ length: 20 }, (_, i) => `crate ${i} of ${vessel}`);
  }
}

export class HarbourOffice {
  constructor({ forgetful }) {
    this.forgetful = forgetful;
    this.tideBoard = new EventEmitter().setMaxListeners(0);
    this.calls = 0;
  }

  arrive(vessel) {
    const call = new VesselCall(`${vessel} ${this.calls++}`);
    call.onTide = () => call.vessel;
    this.tideBoard.on('tide', call.onTide);
    return call;
  }

  leave(call) {
    // a forgetful office leaves departed vessels on the tide board
    if (!this.forgetful) this.tideBoard.off('tide', call.onTide);
  }
}
