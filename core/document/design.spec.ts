import { readFileSync, readdirSync } from 'node:fs';
import Ajv2020 from 'ajv/dist/2020';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { row, state } from '../testing/designs';
import { Design, designJsonSchema, emptyDesign, readDesign, LOAD_KINDS, SOURCE_KINDS, WANTED_KINDS, designFormatText } from './index';
import { COUPLING_KINDS } from '../couplings/index';
import { ELEMENT_KINDS } from '../elements/index';
import { JOINT_KINDS } from '../joints/index';

const demo = (f: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${f}`, import.meta.url), 'utf8'));
const demos = readdirSync(new URL('../../demo/', import.meta.url)).filter((f) => f.endsWith('.json'));
const paddle = demo('paddle-winding-gear.json');
const ajv = new Ajv2020({ strict: false });
const schema = ajv.compile(designJsonSchema());

const problems = (change: (d: Record<string, never>) => void): { path: string; message: string }[] => {
  const d = structuredClone(paddle) as unknown as Record<string, never>;
  change(d);
  return readDesign(d).problems ?? [];
};

describe('the design document', () => {
  it.each(demos)('demo %s passes the schema, the published JSON Schema, and has no stop finding', (f) => {
    const d = demo(f);
    expect(readDesign(d).problems).toBeUndefined();
    expect(schema(d), JSON.stringify(schema.errors)).toBe(true);
    expect(analyse(d).findings.filter((x) => x.severity === 'fault')).toEqual([]);
  });

  it('has its JSON Schema published as it is', () => {
    const published = JSON.parse(readFileSync(new URL('../../docs/design.schema.json', import.meta.url), 'utf8'));
    expect(published, 'run: npm run schema').toEqual(JSON.parse(JSON.stringify(designJsonSchema())));
  });

  it('has its description published as it is, with every field of every kind', () => {
    const text = designFormatText();
    expect(readFileSync(new URL('../../docs/design-format.md', import.meta.url), 'utf8'), 'run: npm run schema').toBe(text);
    for (const k of [...COUPLING_KINDS, ...ELEMENT_KINDS, ...JOINT_KINDS, ...SOURCE_KINDS, ...LOAD_KINDS, ...WANTED_KINDS]) {
      expect(text).toContain(`\`${k.type}\``);
      for (const f of k.fields ?? []) expect(text).toContain(`| \`${f.key}\` |`);
    }
  });

  it('accepts an empty design', () => expect(readDesign(emptyDesign('New')).problems).toBeUndefined());

  it.each<[string, (d: any) => void, RegExp, RegExp]>([
    ['a count that is not whole', (d) => (d.elements[2].teeth = 18.5), /elements\[2\]\.teeth/, /Teeth must be a whole number/],
    ['a module of zero', (d) => (d.elements[2].module = 0), /elements\[2\]\.module/, /Module \(mm\) must be more than 0/],
    ['a fraction that is none', (d) => (d.elements[2].module = '25.4/0'), /module/, /must be a number/],
    ['a missing tooth count', (d) => delete d.elements[2].teeth, /teeth/, /missing/],
    ['an unknown field', (d) => (d.elements[2].paint = 'red'), /elements\[2\]/, /no field paint/],
    ['an unknown kind', (d) => (d.couplings[0].type = 'magic'), /couplings\[0\]/, /must be one of: gear-pair/],
    ['two items with one id', (d) => (d.members[1].id = d.members[0].id), /members/, /share an id/],
    ['the frame’s own id', (d) => (d.members[1].id = 'frame'), /members\[1\]\.id/, /fixed body/],
    ['a direction of no length', (d) => (d.members[0].axis = [0, 0, 0]), /axis/, /must not be zero/],
    ['a number that is not one', (d) => (d.members[0].at = [0, 'x', 0]), /at/, /three numbers/],
    ['a newer version', (d) => (d.version = 4), /version/, /newer than this program/],
    ['another format', (d) => (d.format = 'drawing'), /format/, /not a design document/],
    ['no name', (d) => (d.name = ''), /name/, /missing/],
    ['a list that is missing', (d) => delete d.joints, /joints/, /missing/],
  ])('refuses %s and names field and fix', (_what, change, path, message) => {
    const found = problems(change);
    expect(
      found.some((p) => path.test(p.path) && message.test(p.message)),
      JSON.stringify(found),
    ).toBe(true);
  });

  it('never throws, whatever it is given', () => {
    fc.assert(
      fc.property(fc.jsonValue(), (v) => void readDesign(v)),
      { numRuns: 200 },
    );
    for (const v of [null, undefined, 3, 'x', [], { format: 'unirota-design', version: 9 }]) {
      expect(readDesign(v).problems!.length).toBeGreaterThan(0);
    }
  });

  it('agrees with the JSON Schema about numbers out of range', () => {
    for (const [key, bad] of [
      ['teeth', 1],
      ['module', -1],
      ['pressureAngle', 80],
      ['width', 0],
    ] as const) {
      const d = row([[20, 40]]).design;
      state(d.elements[0], { [key]: bad });
      expect(readDesign(d).problems).toBeDefined();
      expect(schema(d)).toBe(false);
    }
  });
});
