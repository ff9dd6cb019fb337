import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, type Finding, emptyDesign, readDesign } from '../document/index';
import { answersOf, removeItems, withAccepted } from '../edits/index';
import { row } from '../testing/designs';
import { checklistOf, letterOf, remarksLine, reportOf } from './index';

const demo = (file: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${file}`, import.meta.url), 'utf8')) as Design;
const states = (d: Design): Record<string, string> => Object.fromEntries(checklistOf(analyse(d)).map((l) => [l.key, l.state]));
const text = (d: Design, key: string): string => checklistOf(analyse(d)).find((l) => l.key === key)!.text;

describe('the checklist of a release', () => {
  const d = demo('paddle-winding-gear.json');
  it('of a sound design is in order, line by line', () => {
    expect(states(d)).toEqual({ wanted: 'ok', faults: 'ok', cautions: 'ok', mobility: 'ok', runs: 'ok', rating: 'open' });
    // Without materials nothing is rated, and nothing is said to be.
    const bare = {
      ...d,
      elements: d.elements.map((e) => ({ ...e, materialGroup: undefined, bendingLimit: undefined })),
      members: d.members.map((m) => ({ ...m, steel: undefined })),
      joints: d.joints.map((x) => ({ ...x, bearings: undefined })),
    } as Design;
    expect(states(bare)).not.toHaveProperty('rating');
  });
  it('asks a reason for what is below what is wanted of it, and for what is not rated', () => {
    expect(text(d, 'rating')).toBe('33 rated values as wanted; not rated: 2 parts, with the reason under Rating.');
    expect(text({ ...d, settings: { ...d.settings, flankSafety: 1.2 } }, 'rating')).toMatch(
      /^1 of 33 rated values below what is wanted: Rack pinion/,
    );
  });
  it('asks for remarks to be resolved, and says so where nobody knows them', () => {
    expect(remarksLine(0)).toMatchObject({ key: 'remarks', state: 'ok' });
    expect(remarksLine(1)).toMatchObject({ state: 'open', text: '1 remark not resolved.' });
    expect(remarksLine(2).text).toBe('2 remarks not resolved.');
    expect(remarksLine(undefined)).toMatchObject({ state: 'open', text: 'Remarks are not known: the server does not answer.' });
  });
  it('says which wanted output is missed, in which load case', () => {
    const wanted = d.wanted.map((w, k) => (k === 0 ? { ...w, value: 400 } : w));
    expect(states({ ...d, wanted })).toMatchObject({ wanted: 'open' });
    expect(text({ ...d, wanted }, 'wanted')).toBe('Wanted outputs are missed: 1 of 2 (as stated).');
    expect(text({ ...d, wanted: [] }, 'wanted')).toMatch(/^No wanted output/);
  });
  it('stands against a fault, and asks a reason for what nothing drives', () => {
    const elements = d.elements.map((e) => (e.type === 'gear' ? { ...e, module: 5 } : e));
    expect(states({ ...d, elements } as Design)).toMatchObject({ faults: 'fault' });
    expect(states({ ...d, sources: [], runs: [], wanted: [] })).toMatchObject({ mobility: 'open', wanted: 'open', runs: 'ok' });
    expect(states(emptyDesign('Nothing'))).toMatchObject({ wanted: 'open', runs: 'ok' });
  });
});

describe('a caution that is accepted', () => {
  // A wheel with fewer teeth than are cut without undercut.
  const few = row([[12, 54]]).design;
  few.sources = [];
  const caution = (d: Design): Finding => analyse(d).findings.find((f) => f.severity === 'caution')!;
  const accepted = withAccepted(few, caution(few), { reason: 'Runs by hand, once a year', person: 'N. Sedge', date: '2026-11-30' });
  const holds = (d: Design): boolean | undefined => [...answersOf(d, analyse(d).findings).values()].at(0)?.holds;

  it('is in order for the checklist, with its reason in the report', () => {
    expect(states(few)).toMatchObject({ cautions: 'open' });
    expect(readDesign(JSON.parse(JSON.stringify(accepted))).problems).toBeUndefined();
    expect(states(accepted)).toMatchObject({ cautions: 'ok' });
    expect(text(accepted, 'cautions')).toBe('1 caution, accepted for a reason.');
    const chapter = reportOf(accepted, { chapters: ['findings'] }).chapters[0];
    expect(JSON.stringify(chapter)).toContain('Accepted (N. Sedge, 2026-11-30): Runs by hand, once a year');
    // Again in its place, and withdrawn.
    const again = withAccepted(accepted, caution(accepted), { reason: 'Other' });
    expect(again.accepted).toHaveLength(1);
    expect(removeItems(again, [again.accepted![0].id])).not.toHaveProperty('accepted');
  });

  it('holds until what it depends on changes, not longer; names and notes do not count', () => {
    expect(holds(accepted)).toBe(true);
    expect(holds({ ...accepted, elements: accepted.elements.map((e) => ({ ...e, name: `${e.name} of the winch`, note: 'n', cost: 3 })) })).toBe(true);
    expect(holds({ ...accepted, members: accepted.members.map((m) => ({ ...m, name: `Member ${m.id} of the winch` })) })).toBe(true);
    const wider = { ...accepted, elements: accepted.elements.map((e) => ({ ...e, width: 33 })) } as Design;
    expect(holds(wider)).toBe(false);
    expect(states(wider)).toMatchObject({ cautions: 'open' });
    expect(removeItems(accepted, [caution(accepted).ids[0]]).accepted).toBeUndefined();
  });
});

describe('revision letters', () => {
  it('go from A to Z without I and O, then with two letters', () => {
    expect([0, 7, 8, 12, 13, 23, 24, 25, 47, 48].map(letterOf)).toEqual(['A', 'H', 'J', 'N', 'P', 'Z', 'AA', 'AB', 'AZ', 'BA']);
    const many = Array.from({ length: 700 }, (_, k) => letterOf(k));
    expect(new Set(many).size).toBe(700);
    expect(many.some((l) => /[IO]/.test(l))).toBe(false);
  });
});
