/*
 * How long the away plan takes. Odds: 2,000 nights of six printers with forty events each, on one core and shared by two; both give the
 * same answer. Night: a proposal for twelve printers and 150 units, searched for eight seconds and judged by nights.
 * Usage: npm run bench:away
 */
import { spawn } from 'node:child_process';
import { parseArgs } from 'node:util';
import { fileURLToPath } from 'node:url';
import { faultRate, mediaRate } from '../core/away/learnedRate.ts';
import { learnedRatio } from '../core/estimate/learnedRatio.ts';
import { joinNights, simulateNights } from '../core/away/nights.ts';
import { proposeNight } from '../core/night/proposeNight.ts';
import type { NightUnit } from '../core/night/nightUnits.ts';
import { seededRandom } from '../core/random.ts';
import { plannedWork } from '../core/schedule/planInput.ts';
import { Attendance } from '../core/schedule/shopHours.ts';
import { NO_CHANCE, nightPlan } from '../core/testing/nightShop.ts';
import { plannedPrinter, sourceWith } from '../core/testing/plannedPrinter.ts';

const { values } = parseArgs({ options: { part: { type: 'string' } } });
const HOUR = 3_600_000;
const NIGHTS = 2000;
const random = seededRandom(7);
const ids = (n: number, name: string): string[] => Array.from({ length: n }, (_, i) => `${name}-${String(i)}`);

function chanceOf(printers: readonly string[]) {
  const rate = faultRate({ events: 3, over: 400 }, { events: 12, over: 2000 });
  return {
    faults: Object.fromEntries(printers.map((id) => [id, rate])),
    flaws: { mesh: mediaRate({ events: 2, over: 3000 }), film: mediaRate({ events: 1, over: 900 }) },
    jams: { mesh: mediaRate({ events: 4, over: 3000 }) },
    time: Object.fromEntries(printers.map((id) => [id, learnedRatio([1.02, 0.99, 1.05, 1.01])])),
  };
}

function plan() {
  const random = seededRandom(3);
  const printers = ids(6, 'printer').map((id) => ({
    id,
    runs: ids(40, `run-${id}`).map((run) => ({
      ...{ id: run, startH: 0, hours: 0.1 + 0.3 * random(), metres: 3 + 6 * random() },
      stockId: random() < 0.5 ? 'mesh' : 'film',
    })),
  }));
  return nightPlan({ hours: 14, printers, attended: [] }, chanceOf(printers.map(({ id }) => id)));
}

function nights(from: number, count: number): number {
  const began = performance.now();
  simulateNights(plan(), { from, count, seed: 1 });
  return performance.now() - began;
}

/** A part of the nights in a process of its own: its time without its start. */
function inProcess(part: number): Promise<number> {
  return new Promise((done, failed) => {
    const child = spawn('npx', ['tsx', fileURLToPath(import.meta.url), '--part', String(part)], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let told = '';
    child.stdout.on('data', (text: Buffer) => (told += text.toString()));
    child.on('error', failed);
    child.on('close', () => {
      done(Number(told.trim().split('\n').at(-1)));
    });
  });
}

function night(): void {
  const printers = ids(12, 'printer');
  const stocks = ['mesh', 'film', 'banner'];
  const units = ids(150, 'unit').map((id, i): NightUnit => {
    const stockId = stocks[i % 3] ?? 'mesh';
    const able = printers.filter((_id, p) => p % 3 === i % 3);
    const hours = 0.3 + 1.7 * random();
    const standsOn = i < 75 ? (able[i % able.length] ?? null) : null;
    return {
      ...{
        id,
        name: id,
        pieces: 4,
        valueMinor: Math.round(hours * (2000 + 9000 * random())),
        standsOn,
        isFixed: false,
      },
      options: able.map((printerId) => ({
        printerId,
        costMinor: Math.round(hours * 1500),
        run: plannedWork({
          ...{
            id,
            stockId,
            modeId: 'm',
            estimateMs: hours * HOUR,
            needMm: 5000,
            outMm: 5000,
            byHand: false,
            unattended: true,
          },
          dues: i % 7 === 0 ? [{ dueMs: 14 * HOUR, latePerHMinor: 1500 }] : [],
        }),
      })),
    };
  });
  const floor = {
    printers: printers.map((id, p) => {
      const stockId = stocks[p % 3] ?? 'mesh';
      return {
        printer: plannedPrinter(id, { sources: [sourceWith({ stockId, spoolId: id, leftMm: 60_000 })] }),
        runs: [],
      };
    }),
    ...{ rack: [], attendance: new Attendance([{ fromMs: 14 * HOUR, toMs: 24 * HOUR }]), nowMs: 0 },
  };
  const promised = units.filter((_unit, i) => i % 7 === 0 && i < 75).map(({ id }) => id);
  const world = { floor, period: { fromMs: 0, toMs: 14 * HOUR }, printers: {} };
  const chance = { ...NO_CHANCE, ...chanceOf(printers) };
  const began = performance.now();
  const answer = proposeNight(
    { world, units, chance, promised, confidence: 0.5 },
    { seed: 1, random: seededRandom(1), evaluations: 1e6, shouldStop: () => performance.now() - began > 8000 },
  );
  const took = (performance.now() - began) / 1000;
  const money = (minor: number): string => (minor / 100).toFixed(0);
  const percent = (share: number | undefined): string => `${((share ?? 0) * 100).toFixed(1)} %`;
  process.stdout.write(
    `A night for 12 printers and 150 units in ${took.toFixed(1)} s: worth ${money(answer.standing.worth.chance)} as it stands, ` +
      `${money(answer.proposed.worth.chance)} as proposed; promises kept ${percent(answer.standing.promised?.chance)}, ` +
      `${percent(answer.proposed.promised?.chance)}; ${String(answer.moves.length)} moves\n`,
  );
}

if (values.part !== undefined) {
  process.stdout.write(`${String(nights((Number(values.part) * NIGHTS) / 2, NIGHTS / 2))}\n`);
} else {
  const one = nights(0, NIGHTS);
  const two = Math.max(...(await Promise.all([inProcess(0), inProcess(1)])));
  const whole = simulateNights(plan(), { from: 0, count: 400, seed: 1 });
  const parts = joinNights([0, 200].map((from) => simulateNights(plan(), { from, count: 200, seed: 1 })));
  process.stdout.write(
    `${String(NIGHTS)} nights of 6 printers × 40 events: ${(one / 1000).toFixed(2)} s on one core, ${(two / 1000).toFixed(2)} s on two (${(one / two).toFixed(2)} ×)\n` +
      `In parts the answer is ${JSON.stringify([...whole.plan]) === JSON.stringify([...parts.plan]) ? 'the same' : 'ANOTHER'}\n`,
  );
  night();
}
