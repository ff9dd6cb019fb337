import { type Worked, analyse, casesOf } from '../checks/index';
import { unitsOf } from '../document/index';
import type { Design } from '../fields/types';
import { listed, show } from '../units/index';
import { reactions, runs, sheets, shafts, travel } from './motion';
import { type Block, CHAPTERS, type ChapterKey, type Report } from './report';
import { computedRuns } from '../sizing/index';
import { standingTables } from '../tables/index';
import type { Subject } from './subject';
import { couplings, duty, findings, gears, ledgerOf, map, masses, ratios, rating } from './train';

export { type CheckLine, type CheckState, checklistOf, letterOf, remarksLine } from './checklist';
export { type Block, CHAPTERS, CHAPTER_KEYS, type Chapter, type ChapterKey, type Report, type ReportColumn } from './report';

const MADE: Record<ChapterKey, (s: Subject) => Block[]> = {
  duty,
  map,
  ratios,
  ledger: ledgerOf,
  couplings,
  gears,
  rating,
  findings,
  travel,
  runs,
  reactions,
  sheets,
  shafts,
  masses,
};

/** What a report has. */
export interface ReportOptions {
  /** Chapters that it has; all of them where none are named. */
  chapters?: readonly ChapterKey[];
  /** What tells this report from another: revision, date, person. */
  marks?: readonly (readonly [label: string, value: string])[];
}

/** What it comes to: wanted outputs, findings, mobility. */
function summaryOf({ worked, cases, units }: Subject): string[] {
  const counts = (['fault', 'caution', 'note'] as const).flatMap((severity) => {
    const n = worked.findings.filter((f) => f.severity === severity).length;
    return n ? [`${n} ${severity}${n > 1 ? 's' : ''}`] : [];
  });
  const wanted = cases.map((c) => ({ name: c.name, met: c.ledger.wanted.filter((w) => w.met).length, of: c.ledger.wanted.length }));
  const [source] = worked.ledger.sources;
  const mass = [...worked.masses.values()].reduce((sum, m) => sum + m.mass, 0);
  const free = worked.undriven.length;
  return [
    ...wanted.filter((w) => w.of).map((w) => `Wanted outputs, ${w.name}: ${w.met} of ${w.of} met.`),
    `Findings: ${counts.length ? listed(counts) : 'none'}.`,
    `Mobility: ${worked.freedoms} ${worked.freedoms === 1 ? 'degree' : 'degrees'} of freedom, ${free ? `${free} of them not driven` : 'all driven'}.`,
    ...(source ? [`The first source gives ${units.text(source.power, 'W')} in the home position.`] : []),
    `Mass of all members: ${units.text(mass, 'kg')}.`,
    ...(worked.ledger.efficiency === undefined ? [] : [`Efficiency of the whole train: ${show(100 * worked.ledger.efficiency, 4)} %.`]),
  ];
}

/**
 * The design as a report: every chapter that has something to say, in the units of the design. Runs are computed again.
 * Figures are those of the ledger, the runs and the tables; nothing here computes one of its own.
 */
export function reportOf(design: Design, { chapters, marks = [] }: ReportOptions = {}, worked: Worked = analyse(design)): Report {
  const cases = casesOf(worked);
  const subject: Subject = {
    design,
    worked,
    units: unitsOf(design.settings),
    cases,
    tables: standingTables(worked, cases),
    runs: () => computedRuns(design),
  };
  return {
    title: design.name,
    marks,
    note: design.note,
    summary: summaryOf(subject),
    chapters: CHAPTERS.filter(([key]) => !chapters || chapters.includes(key))
      .map(([key, title]) => ({ key, title, blocks: MADE[key](subject) }))
      .filter((c) => c.blocks.length),
  };
}
