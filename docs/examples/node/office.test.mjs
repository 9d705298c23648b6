import test from 'node:test';
import { staysFlat } from '../../../node/stays-flat.mjs';
import { HarbourOffice } from './office.mjs';

const office = new HarbourOffice({ forgetful: process.env.FORGETFUL === 'yes' });

test('vessels that leave are forgotten', t =>
  staysFlat(t, () => office.leave(office.arrive('Alma'))));
