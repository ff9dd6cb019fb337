import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign } from '../document/index';
import { checklistOf, letterOf } from './index';

const demo = (file: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${file}`, import.meta.url), 'utf8')) as Design;
const states = (d: Design): Record<string, string> => Object.fromEntries(checklistOf(analyse(d)).map((l) => [l.key, l.state]));
const text = (d: Design, key: string): string => checklistOf(analyse(d)).find((l) => l.key === key)!.text;

describe('the checklist of a release', () => {
  const d = demo('paddle-winding-gear.json');
  it('of a sound design is in order, line by line', () => {
    expect(states(d)).toEqual({ wanted: 'ok', faults: 'ok', cautions: 'ok', mobility: 'ok', runs: 'ok' });
    expect(text(d, 'runs')).toBe('2 runs computed again, without trouble.');
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

describe('revision letters', () => {
  it('go from A to Z without I and O, then with two letters', () => {
    expect([0, 7, 8, 12, 13, 23, 24, 25, 47, 48].map(letterOf)).toEqual(['A', 'H', 'J', 'N', 'P', 'Z', 'AA', 'AB', 'AZ', 'BA']);
    const many = Array.from({ length: 700 }, (_, k) => letterOf(k));
    expect(new Set(many).size).toBe(700);
    expect(many.some((l) => /[IO]/.test(l))).toBe(false);
  });
});
