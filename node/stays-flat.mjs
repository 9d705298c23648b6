// Fails a test of Node's own runner when an action leaves something behind.
//
//   import test from 'node:test';
//   import { staysFlat } from './stays-flat.mjs';
//
//   test('vessels leave', t => staysFlat(t, () => office.leave(office.arrive('Alma'))));
//
// The action is done several times in this very process; heap snapshots are written before and
// after, and `lipsanon growth` says what piles up and what holds it. One round without a snapshot
// comes first, for all that is made once, and a long round last, by which a cache that fills is
// told from a leak. Snapshots go when the test passes and stay when it fails.
//
// Options: actions (between two snapshots, 5), rounds (3), allowedBytes (with each action, 0),
// folder (where that of the snapshots is made), lipsanon (the command; else the variable LIPSANON,
// else `lipsanon` on the path). Needs Node.js 18 or later and nothing else.

import { spawnSync } from 'node:child_process';
import { AssertionError } from 'node:assert';
import fs from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import v8 from 'node:v8';

const LONG = 3;
let running = '';

/** Does the action again and again; rejects if something stays behind. */
export async function staysFlat(t, action, options = {}) {
  const { actions = 5, rounds = 3, allowedBytes = 0 } = options;
  for (const [name, value] of Object.entries({ actions, rounds })) {
    if (!Number.isInteger(value) || value < 1) throw new TypeError(`${name}: ${value}; a whole number from 1 on is needed`);
  }
  const name = t?.name ?? 'rehearsal';
  if (running) {
    throw new Error(`${name}: "${running}" rehearses in this process at this moment, and there is one heap only. Run such tests one after another (concurrency: 1).`);
  }
  running = name;
  const folder = fs.mkdtempSync(path.join(options.folder ?? os.tmpdir(), `lipsanon-${name.replace(/[^A-Za-z0-9.-]+/g, '-').slice(0, 60)}-`));
  let keep = false;
  try {
    const between = [];
    const files = [];
    const round = async (times, counted) => {
      for (let i = 0; i < times; i++) await action();
      if (counted) between.push(times);
      // what the last turn of the loop still holds is no leak
      await new Promise(resolve => setImmediate(resolve));
    };
    const snapshot = () => files.push(v8.writeHeapSnapshot(path.join(folder, `${files.length}.heapsnapshot`)));
    await round(actions, false);
    snapshot();
    for (let i = 0; i < rounds; i++) {
      await round(actions, true);
      snapshot();
    }
    await round(LONG * actions * (rounds + 1), true);
    snapshot();
    const answer = ask(options.lipsanon ?? process.env.LIPSANON ?? 'lipsanon', folder, files, between);
    const findings = answer.findings.filter(one => one.bytesPerAction > allowedBytes);
    if (findings.length > 0) {
      keep = true;
      throw new AssertionError({ message: said(name, findings, folder, between), stackStartFn: staysFlat });
    }
  } finally {
    running = '';
    if (!keep) fs.rmSync(folder, { recursive: true, force: true });
  }
}

function ask(command, folder, files, between) {
  const words = ['growth', ...files, '--actions', between.join(','), '--json', '--index-dir', path.join(folder, 'index')];
  const run = spawnSync(command, words, { encoding: 'utf8', maxBuffer: 1 << 28 });
  if (run.error) {
    throw new Error(`${command} cannot be run (${run.error.code}): put lipsanon on the path, or its place into the variable LIPSANON`);
  }
  if (run.status !== 0) throw new Error(`lipsanon growth ended with ${run.status}: ${run.stderr.trim()}`);
  return JSON.parse(run.stdout);
}

function said(name, findings, folder, between) {
  const lines = [`${name}: something stays behind.`];
  for (const finding of [...findings].sort((a, b) => b.bytesPerAction - a.bytesPerAction)) {
    lines.push(`  ${finding.sentence}`);
    for (const step of finding.steps) lines.push(`    ${step.via} → ${step.type}`);
  }
  lines.push(`  The snapshots are kept: lipsanon growth ${folder}/*.heapsnapshot --actions ${between.join(',')}`);
  return lines.join('\n');
}
