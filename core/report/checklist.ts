import { type Case, type Worked, casesOf } from '../checks/index';
import { answersOf } from '../edits/index';
import type { Finding } from '../fields/types';
import { listed, listedUpTo } from '../units/index';
import { type Rating, rate, savedRuns, steadyCase } from '../rating/index';
import { type ComputedRun, computedRuns } from '../sizing/index';

/** How a line stands: in order; open, which a reason answers; a fault, with which nothing is released. */
export type CheckState = 'ok' | 'open' | 'fault';
/** One line of what a release asks for. */
export interface CheckLine {
  key: 'wanted' | 'faults' | 'cautions' | 'mobility' | 'runs' | 'rating' | 'remarks';
  state: CheckState;
  text: string;
}

const several = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
/** Sentences of findings, as many as a line takes. */
const said = (list: readonly Finding[]): string =>
  listedUpTo(
    3,
    list.map((f) => f.message),
  );

function wanted(cases: readonly Case[]): CheckLine {
  const all = cases.map((c) => ({ name: c.name, of: c.ledger.wanted.length, met: c.ledger.wanted.filter((w) => w.met).length }));
  if (all.every((c) => c.of === 0)) return { key: 'wanted', state: 'open', text: 'No wanted output is stated: nothing says what the train is for.' };
  const missed = all.filter((c) => c.met < c.of);
  if (!missed.length) {
    return { key: 'wanted', state: 'ok', text: `Wanted outputs are met${all.length > 1 ? ` in all ${all.length} load cases` : ''}.` };
  }
  return {
    key: 'wanted',
    state: 'open',
    text: `Wanted outputs are missed: ${listed(missed.map((c) => `${c.of - c.met} of ${c.of} (${c.name})`))}.`,
  };
}

function mobility({ undriven, compiled, freedoms }: Worked): CheckLine {
  const line = (state: CheckState, text: string): CheckLine => ({ key: 'mobility', state, text });
  if (undriven.length) return line('open', `${several(undriven.length, 'freedom')} without a source.`);
  if (!compiled.sources.length) {
    return line('open', freedoms ? 'No source is stated: nothing drives the train.' : 'Nothing moves, and no source is stated.');
  }
  return line('ok', 'Every freedom has a source.');
}

/**
 * What a release asks for, filled by the design itself: wanted outputs in every load case, faults, cautions, freedoms without a
 * source, the runs, which are computed again, and the rating.
 */
export function checklistOf(
  worked: Worked,
  cases: readonly Case[] = casesOf(worked),
  runs: readonly ComputedRun[] = computedRuns(worked.compiled.design),
): CheckLine[] {
  const faults = worked.findings.filter((f) => f.severity === 'fault');
  const all = worked.findings.filter((f) => f.severity === 'caution');
  const answers = answersOf(worked.compiled.design, all);
  const cautions = all.filter((f) => !answers.get(f)?.holds);
  const accepted = all.length - cautions.length;
  const troubled = runs.filter((r) => r.said.length || r.result.findings.some((f) => f.severity !== 'note'));
  return [
    wanted(cases),
    faults.length
      ? { key: 'faults', state: 'fault', text: `${several(faults.length, 'fault')}: ${said(faults)}.` }
      : { key: 'faults', state: 'ok', text: 'No faults.' },
    cautions.length
      ? {
          key: 'cautions',
          state: 'open',
          text: `${several(cautions.length, 'caution')}${accepted ? ` that ${cautions.length === 1 ? 'is' : 'are'} not accepted` : ''}: ${said(cautions)}.`,
        }
      : { key: 'cautions', state: 'ok', text: accepted ? `${several(accepted, 'caution')}, accepted for a reason.` : 'No cautions.' },
    mobility(worked),
    troubled.length
      ? { key: 'runs', state: 'open', text: `Runs with something to say: ${listed(troubled.map((r) => `“${r.name}”`))}.` }
      : { key: 'runs', state: 'ok', text: runs.length ? `${several(runs.length, 'run')} computed again, without trouble.` : 'No runs.' },
    ...bears(rate(worked.compiled, [...cases.map(steadyCase), ...savedRuns(worked.compiled.design)])),
  ];
}

/**
 * What is rated; nothing where nothing is. What is not rated wants a reason: it was checked in another way, or needs no
 * check.
 */
function bears({ lines, unrated }: Rating): CheckLine[] {
  if (!lines.length) return [];
  const failed = lines.filter((l) => l.reserve < 1);
  const line = (state: CheckState, text: string): CheckLine[] => [{ key: 'rating', state, text }];
  const few = listedUpTo(
    3,
    failed.map((l) => l.name),
  );
  if (failed.length) return line('open', `${failed.length} of ${several(lines.length, 'rated value')} below what is wanted: ${few}.`);
  const good = `${several(lines.length, 'rated value')} as wanted`;
  if (!unrated.length) return line('ok', `${good}.`);
  const parts = new Set(unrated.map((u) => u.name));
  return line('open', `${good}; not rated: ${several(parts.size, 'part')}, with the reason under Rating.`);
}

/** The line about remarks of reviewers, of which `open` are not resolved; undefined where nobody knows. */
export function remarksLine(open: number | undefined): CheckLine {
  if (open === undefined) return { key: 'remarks', state: 'open', text: 'Remarks are not known: the server does not answer.' };
  if (!open) return { key: 'remarks', state: 'ok', text: 'No open remarks.' };
  return { key: 'remarks', state: 'open', text: `${several(open, 'remark')} not resolved.` };
}

/** Revision letters in their order: A to Z without I and O, then AA, AB … (common practice). */
export function letterOf(number: number): string {
  const letters = 'ABCDEFGHJKLMNPQRSTUVWXYZ';
  let n = number;
  let out = '';
  do {
    out = letters[n % letters.length] + out;
    n = Math.floor(n / letters.length) - 1;
  } while (n >= 0);
  return out;
}
