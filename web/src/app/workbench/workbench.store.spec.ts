import { readFileSync } from 'node:fs';
import '@angular/compiler';
import { Injector, type Signal, computed, runInInjectionContext } from '@angular/core';
import { of } from 'rxjs';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import 'fake-indexeddb/auto';
import { Design, emptyDesign } from '@unirota/core/document';
import { analyse, curesFor, stageKind, stageValues } from '@unirota/core';
import { UnitsService } from '../services/units.service';
import { type Analysed, AnalysisService } from '../services/analysis.service';
import { ApiService } from '../services/api.service';
import { WorkbenchStore } from './workbench.store';

const demo = (f: string): Design => JSON.parse(readFileSync(new URL(`../../../../demo/${f}.json`, import.meta.url), 'utf8')) as Design;

const atOnce = (design: Signal<Design | undefined>): Signal<Analysed | undefined> =>
  computed(() => {
    const d = design();
    return d && { of: d, is: analyse(d) };
  });

/** The store with a design in it, without page or server. */
function opened(design: Design): WorkbenchStore {
  const api = { read: () => of({ design, revision: 1 }), save: () => of({ revision: 2 }) };
  const injector = Injector.create({
    providers: [
      { provide: ApiService, useValue: api },
      { provide: UnitsService, useClass: UnitsService },
      // Without a worker: at once.
      { provide: AnalysisService, useValue: { of: atOnce } },
    ],
  });
  const store = runInInjectionContext(injector, () => new WorkbenchStore());
  store.design.set(design);
  store.opened.set(true);
  return store;
}
const name = (s: WorkbenchStore): string | undefined => s.history().done.at(-1)?.name;
const insert = (s: WorkbenchStore, kind: string, from: string | undefined, more: object = {}): string | undefined => {
  const k = stageKind(kind)!;
  return s.insert(kind, k.label, { ...stageValues(k), ...more }, { from });
};

beforeEach(() => {
  vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined, removeItem: () => undefined });
  vi.stubGlobal('requestAnimationFrame', (f: (t: number) => void) => setTimeout(() => f(performance.now()), 1));
});

describe('building in the workbench', () => {
  it('goes on at what is selected, else at the shaft that the source drives', () => {
    const s = opened(demo('paddle-winding-gear'));
    expect(s.memberAt()).toBe('crankshaft');
    s.select('member', 'paddle');
    expect(s.memberAt()).toBe('paddle');
    s.select('element', 'z2');
    expect(s.memberAt()).toBe('pinionshaft');
    s.select('joint', 'j-paddle');
    expect(s.memberAt()).toBe('paddle');
    expect(opened(emptyDesign('New')).memberAt()).toBeUndefined();
  });
  it('puts loads on what is selected, and shows a load case without touching the design', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.addLoad('torque', { member: 'pinionshaft' });
    expect(s.design().loads.at(-1)).toMatchObject({ type: 'torque', member: 'pinionshaft' });
    expect(s.selection()).toMatchObject({ kind: 'load' });
    s.undo();
    const [water] = s.design().loads;
    s.edit('Add a load case', (d) => ({ ...d, cases: [{ id: 'c', name: 'Holding', loads: [{ load: water.id, factor: 0 }] }] }));
    const stated = s.ledger().sources[0].load;
    s.loadCase.set('c');
    expect(s.ledger().sources[0].load).toBeLessThan(stated / 2);
    expect(s.design().loads).toContain(water);
    s.loadCase.set(undefined);
    expect(s.ledger().sources[0].load).toBe(stated);
  });
  it('begins an empty design with a source on an input shaft, and grows stage by stage with named steps', () => {
    const s = opened(emptyDesign('New'));
    s.beginWith('motor', 'Motor');
    expect(s.selection()).toMatchObject({ kind: 'source' });
    expect(insert(s, 'spur', s.design().members[0].id)).toBeUndefined();
    expect(name(s)).toBe('Put in spur pair');
    expect(s.selection()?.kind).toBe('coupling');
    expect(insert(s, 'rack', s.design().members[1].id)).toBeUndefined();
    expect(s.findings().filter((f) => f.severity !== 'note')).toEqual([]);
    expect(s.snapshot()!.ratios.at(-1)!.exact).toBe('-40π/3');
    s.undo();
    expect(s.design().members).toHaveLength(2);
    // What is gone is no longer selected.
    expect(s.selection()).toBeUndefined();
    s.redo();
    expect(s.design().members).toHaveLength(3);
  });

  it('says why a stage cannot begin at a member, and changes nothing', () => {
    const s = opened(demo('paddle-winding-gear'));
    expect(insert(s, 'spur', 'paddle')).toMatch(/turns about its own axis/);
    expect(s.history().done).toEqual([]);
  });

  it('says what a change brings about, and takes the cure', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.editItem({ kind: 'element', id: 'z2' }, 'Teeth of Spur wheel', (e) => ({ ...e, teeth: 90 }));
    expect(s.consequences().map((f) => f.code)).toContain('too-far-apart');
    const [cure] = curesFor(
      s.design(),
      s.consequences().find((f) => f.code === 'too-far-apart')!,
    );
    s.cure(cure);
    expect(s.consequences()).toEqual([]);
    expect(s.findings().filter((f) => f.severity !== 'note')).toEqual([]);
    expect(name(s)).toBe(cure.label);
  });

  it('refuses what the schema does not let through, in words, and keeps the design', () => {
    const s = opened(demo('paddle-winding-gear'));
    const before = s.design();
    expect(s.editItem({ kind: 'element', id: 'z2' }, 'x', (e) => ({ ...e, teeth: 2.5 }))).toMatch(/whole number/);
    expect(s.design()).toBe(before);
  });
});

describe('selecting', () => {
  it('adds and takes away besides what is selected, and one choice clears the rest', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.select('member', 'paddle');
    s.select('member', 'crankshaft', true);
    s.select('element', 'rack', true);
    expect(s.selected().map((x) => x.id)).toEqual(['rack', 'crankshaft', 'paddle']);
    s.select('member', 'crankshaft', true);
    expect(s.selected().map((x) => x.id)).toEqual(['rack', 'paddle']);
    s.select('element', 'rack', true);
    expect(s.selected().map((x) => x.id)).toEqual(['paddle']);
    expect(s.isSelected('paddle')).toBe(true);
    s.select('joint', 'j-crank');
    expect(s.selected().map((x) => x.id)).toEqual(['j-crank']);
  });

  it('deletes all that is selected in one step, with what hangs on it', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.select('member', 'pinionshaft');
    s.select('member', 'paddle', true);
    s.removeSelected();
    expect(s.design().members.map((m) => m.id)).toEqual(['crankshaft']);
    expect(s.design().couplings.map((c) => c.id)).toEqual(['c-hold']);
    expect(name(s)).toBe('Delete 2 items');
    s.undo();
    expect(s.design().members).toHaveLength(3);
  });

  it('copies, pastes, duplicates and groups', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.paste();
    expect(s.history().done).toEqual([]);
    s.select('member', 'paddle');
    s.copy();
    expect(s.copied()).toBeGreaterThan(0);
    s.paste();
    expect(s.design().members).toHaveLength(4);
    expect(s.item(s.selection())).toMatchObject({ name: 'Paddle 2' });
    s.duplicate(['paddle']);
    expect(s.design().members).toHaveLength(5);
    s.select('member', 'paddle');
    s.group();
    expect(s.design().groups).toBeUndefined();
    s.select('member', 'crankshaft', true);
    s.group();
    expect(s.design().groups).toMatchObject([{ items: ['crankshaft', 'paddle'] }]);
  });

  it('hides, isolates and shows through', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.toggleSet('hidden', ['paddle']);
    expect([...s.hidden()]).toEqual(['paddle']);
    s.toggleSet('hidden', ['paddle']);
    expect(s.hidden().size).toBe(0);
    s.isolate(['paddle']);
    expect([...s.hidden()].sort()).toEqual(['crankshaft', 'frame', 'pinionshaft']);
    s.toggleSet('through', ['paddle', 'crankshaft']);
    expect(s.through().size).toBe(2);
  });
});

describe('turning by hand', () => {
  it('names the ends of the way as people see them: top and bottom, a value, a dead centre', () => {
    const s = opened(demo('paddle-winding-gear'));
    const { lower, upper } = s.hand().interval(s.source()!.coordinate);
    expect([lower, upper].map((e) => s.endText(e!)).sort()).toEqual(['Paddle guide bottom', 'Paddle guide top']);
    const lift = demo('inspection-lift');
    const open = opened({
      ...lift,
      joints: lift.joints.map((j) => (j.id === 'j-foot' ? { id: j.id, name: 'Foot guide', type: j.type, parent: j.parent, child: j.child } : j)),
      elements: lift.elements.map((e) => (e.id === 'spindle' ? { ...e, length: 9000 } : e)),
    });
    const ends = open.hand().interval(open.source()!.coordinate);
    const texts = [ends.lower, ends.upper].map((e) => (e ? open.endText(e) : ''));
    expect(texts.some((t) => t.startsWith('dead centre: '))).toBe(true);
    // The arms, 1600 mm between their end pins, lie flat with the foot 1600 mm from the fixed side: 149.9 mm on, at 6 mm a turn.
    const flat = (1600 - 1450.092459259) / 6;
    expect([ends.lower, ends.upper].some((e) => e?.dead && Math.abs(Math.abs(e.at) - flat) < 0.01)).toBe(true);
  });

  it('leads the train to its stops and names them; the place becomes a stop of its own', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.turnTo(5);
    expect(s.position()).toBeCloseTo(5, 9);
    expect(s.takeFromHand('j-paddle', 'upper')).toBeUndefined();
    expect(s.design().joints[2].upper).toBeCloseTo(5 * 17 * Math.PI, 3);
    expect(name(s)).toBe('Upper stop from the hand');
    s.turnTo(9);
    expect(s.held()).toMatchObject({ joint: 'j-paddle', which: 'upper' });
    expect(s.position()).toBeCloseTo(5, 4);
    // The pawl lets nothing back but the lost motion.
    s.turnTo(1);
    expect(s.held()).toMatchObject({ joint: 'c-hold', which: 'pawl' });
  });

  it('keeps the position over an edit', () => {
    const s = opened(demo('swing-footbridge'));
    s.turnTo(3);
    s.edit('Rename', (d) => ({ ...d, name: 'Another' }));
    expect(s.position()).toBeCloseTo(3, 9);
  });

  it('moves a member alone for a look, and puts it back', () => {
    const s = opened(demo('swing-footbridge'));
    const m = s.worked().pose;
    const before = Float64Array.from(m.placements);
    s.look(0, 1);
    expect(s.looking()).toBe(true);
    expect([...m.placements]).not.toEqual([...before]);
    s.endLook();
    expect([...m.placements]).toEqual([...before]);
    expect(s.looking()).toBe(false);
  });

  it('holds the other sources while one is turned', () => {
    let d = demo('swing-footbridge');
    // The ring let go and driven by a second source: the carrier has two drives.
    d = {
      ...d,
      members: [...d.members, { id: 'ringshaft', name: 'Ring shaft', kind: 'shaft', at: [0, 0, 0] }],
      joints: [
        ...d.joints.map((j) => (j.id === 'j-bridge' ? { ...j, lower: undefined, upper: undefined } : j)),
        { id: 'j-ring', type: 'revolute', parent: 'frame', child: 'ringshaft' },
      ],
      elements: d.elements.map((e) => (e.id === 'ring' ? { ...e, member: 'ringshaft' } : e)),
      sources: [...d.sources, { id: 'second', name: 'Second', type: 'motor', joint: 'j-ring', speed: 5 }],
    };
    const s = opened(JSON.parse(JSON.stringify(d)) as Design);
    expect(s.snapshot()!.freedoms).toBe(2);
    const [first, second] = s.worked().compiled.sources.map((x) => x.coordinate);
    s.turnTo(2);
    expect(s.worked().pose.q[second]).toBeCloseTo(0, 9);
    s.driver.set(1);
    s.turnTo(1);
    const m = s.worked().pose;
    expect(m.q[second] / m.kinematics.scale[second]).toBeCloseTo(1, 9);
    expect(m.q[first] / m.kinematics.scale[first]).toBeCloseTo(2, 9);
  });

  it('shows a freedom moving, and leaves everything as it was', async () => {
    const d = demo('swing-footbridge');
    const s = opened({ ...d, sources: [] });
    const m = s.worked().pose;
    const before = Float64Array.from(m.u);
    let moved = 0;
    s.moved.subscribe(() => moved++);
    s.showFreedom(0);
    expect(s.looking()).toBe(true);
    await vi.waitFor(() => expect(s.looking()).toBe(false), { timeout: 6000, interval: 100 });
    expect(moved).toBeGreaterThan(10);
    expect([...m.u]).toEqual([...before]);
    expect(s.design().sources).toEqual([]);
  });

  it('previews without making a step', () => {
    const s = opened(demo('paddle-winding-gear'));
    const before = s.design();
    s.preview({ ...before, name: 'Dragged' });
    expect(s.history().done).toEqual([]);
    s.preview(before);
    expect(s.design()).toBe(before);
  });
});
