import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { STAGE_KINDS, insertStage, withInputShaft } from '../sizing/index';
import { type Field, statedBy } from '../fields/fields';
import { type Design, type ItemList, ITEM_LISTS, emptyDesign, fieldsOfItem } from './index';

/** The design with everything stated that was left open and has a value that holds then. */
function withInitials(d: Design): Design {
  const fill = (list: ItemList) =>
    d[list].map((x) => {
      const open = fieldsOfItem(list, x).filter((f: Field) => f.initial !== undefined && statedBy(x)[f.key] === undefined && (!f.when || f.when(x)));
      return { ...x, ...Object.fromEntries(open.map((f) => [f.key, f.initial])) };
    });
  return { ...d, ...Object.fromEntries(ITEM_LISTS.map((list) => [list, fill(list)])) };
}

/** What a design gives, in figures. */
const figures = (d: Design): unknown => {
  const a = analyse(d);
  const round = (x: number): number => Number(x.toPrecision(9));
  return {
    lines: a.ledger.lines.map((l) => [l.member, round(l.speed), round(l.load)]),
    sources: a.ledger.sources.map((s) => round(s.load)),
    masses: [...a.masses].map(([id, m]) => [id, round(m.mass)]),
    findings: a.findings.map((f) => f.code),
  };
};

describe('what is left open', () => {
  const demos = new URL('../../demo/', import.meta.url);
  it.each(readdirSync(demos).filter((f) => f.endsWith('.json')))('%s: counts as the value that is shown for it', (f) => {
    const d = JSON.parse(readFileSync(new URL(f, demos), 'utf8')) as Design;
    expect(figures(withInitials(d))).toEqual(figures(d));
  });
  it.each(STAGE_KINDS.map((k) => k.kind))('stage %s: counts as the value that is shown for it', (kind) => {
    const s = withInputShaft(emptyDesign('Begun'), { type: 'motor', name: 'Motor' });
    const d = insertStage(s.design, { kind, from: s.output })!.design;
    const joint = d.joints.at(-1)!;
    const loaded = {
      ...d,
      loads: joint.type === 'fixed' ? [] : [{ id: 'load', name: 'Load', type: 'joint-load', ...{ joint: joint.id, value: -20 } }],
    };
    expect(figures(withInitials(loaded))).toEqual(figures(loaded));
  });
});
