/** Others who read and write at the same time: one writer, and readers who see no state between. */
import { afterAll, describe, expect, test } from '@jest/globals';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Folder, lifted, removeFolders, site } from './estrade.js';

afterAll(removeFolders);

describe('others at the same time', () => {
  test('two lifts: one is written, the other is told, and what is there is proven', async () => {
    for (let time = 0; time < 3; time++) {
      const folder = new Folder(site());
      const both = await Promise.all([folder.start(['lift', '--recommended']), folder.start(['lift', 'boat-card'])]);
      expect(both.map(({ status }) => status)).toContain(0);
      for (const { status, err } of both)
        if (status !== 0) expect(err).toMatch(/another estrade is writing|a component already|nothing/);
      expect(folder.run(['check']).status).toBe(0);
      expect(folder.run(['undo']).status).toBe(0);
    }
  });

  test('who reads sees a state before or after a write, never one between', async () => {
    const told = (folder: Folder) => folder.run(['survey', '--json']).out;
    const [before, after] = [told(new Folder(site())), told(lifted())];
    const folder = new Folder(site());
    let isOver = false;
    const readers = [0, 1].map(async () => {
      const seen: string[] = [];
      while (!isOver) {
        const { out, err, status } = await folder.start(['survey', '--json']);
        expect({ err, status }).toEqual({ err: '', status: 0 });
        seen.push(out);
      }
      return seen;
    });
    for (let time = 0; time < 4; time++)
      for (const args of [['lift', '--recommended'], ['undo']]) expect((await folder.start(args)).status).toBe(0);
    isOver = true;
    const seen = (await Promise.all(readers)).flat();
    expect(seen.length).toBeGreaterThan(4);
    for (const out of seen) expect([before, after]).toContain(out);
  });

  test('the lock of a process that is gone is in nobody’s way, also where its number lives on', () => {
    const folder = new Folder(site());
    folder.write({ '.estrade/lock': JSON.stringify({ pid: process.pid, started: 'another boot 1' }) });
    expect(folder.run(['lift', '--recommended']).status).toBe(0);
    folder.write({ '.estrade/lock': 'no process' });
    expect(folder.run(['undo']).status).toBe(0);
    expect(existsSync(join(folder.path, '.estrade'))).toBe(false);
  });

  test('the lock of one that is at work is respected', () => {
    const folder = new Folder(site());
    folder.write({ '.estrade/lock': JSON.stringify({ pid: process.pid, started: null }) });
    expect(folder.run(['lift', '--recommended'])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/another estrade/),
    });
    expect(folder.run(['survey']).status).toBe(0);
    expect(existsSync(join(folder.path, '.estrade/lock'))).toBe(true);
  });
});
