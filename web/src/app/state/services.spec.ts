import { readFileSync, readdirSync } from 'node:fs';
import '@angular/compiler';
import { Injector, type Signal, computed } from '@angular/core';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import 'fake-indexeddb/auto';
import { Design, emptyDesign, readDesign } from '@unirota/core/document';
import { analyse, curesFor, stageKind, stageValues, withItem } from '@unirota/core';
import { HeldContents } from './held-contents.service';
import { UnitsService } from './units.service';
import { type Analysed, AnalysisService } from './analysis.service';
import { CommandsService, type Deletion } from './commands.service';
import { DesignService } from './design.service';
import { FindingsService } from './findings.service';
import { MotionService } from './motion.service';
import { SelectionService } from './selection.service';
import { ViewService } from './view.service';

const demo = (f: string): Design => JSON.parse(readFileSync(new URL(`../../../../demo/${f}.json`, import.meta.url), 'utf8')) as Design;

const atOnce = (design: Signal<Design | undefined>): Signal<Analysed | undefined> =>
  computed(() => {
    const d = design();
    return d && { of: d, is: analyse(d) };
  });

interface Opened {
  doc: DesignService;
  chosen: SelectionService;
  view: ViewService;
  motion: MotionService;
  found: FindingsService;
  commands: CommandsService;
}
/** A design that is open, without page or server. */
function opened(design: Design): Opened {
  const injector = Injector.create({
    providers: [
      { provide: UnitsService, useClass: UnitsService },
      { provide: HeldContents, useClass: HeldContents },
      // Without a worker: at once.
      { provide: AnalysisService, useValue: { of: atOnce } },
      ...[DesignService, SelectionService, ViewService, MotionService, FindingsService, CommandsService].map((c) => ({
        provide: c,
        useClass: c,
        deps: [],
      })),
    ],
  });
  const doc = injector.get(DesignService);
  doc.show(design, '');
  return {
    doc,
    chosen: injector.get(SelectionService),
    view: injector.get(ViewService),
    motion: injector.get(MotionService),
    found: injector.get(FindingsService),
    commands: injector.get(CommandsService),
  };
}
const name = (s: Opened): string | undefined => s.doc.history().done.at(-1)?.name;
const insert = (s: Opened, kind: string, from: string | undefined, more: object = {}): string | undefined => {
  const k = stageKind(kind)!;
  return s.commands.insert(kind, k.label, [{ ...stageValues(k), ...more }], { from });
};

beforeEach(() => {
  vi.stubGlobal('localStorage', { getItem: () => null, setItem: () => undefined, removeItem: () => undefined });
  vi.stubGlobal('requestAnimationFrame', (f: (t: number) => void) => setTimeout(() => f(performance.now()), 1));
  vi.stubGlobal('cancelAnimationFrame', (id: ReturnType<typeof setTimeout>) => clearTimeout(id));
});

describe('figures on opening', () => {
  const DEMOS = readdirSync(new URL('../../../../demo/', import.meta.url)).filter((f) => f.endsWith('.json'));
  /** What the tables and arrows of Loads are made from. */
  const wrenches = (s: Opened): Map<string, number[]> => {
    s.motion.ledger();
    return new Map(
      s.motion
        .worked()
        .forces.wrenches(false)
        .map((w, k) => [`${k} ${w.kind} ${w.id} ${w.body}`, [...w.point, ...w.force, ...w.moment]]),
    );
  };
  const alike = (a: Map<string, number[]>, b: Map<string, number[]>): void => {
    expect([...a.keys()]).toEqual([...b.keys()]);
    const most = Math.max(1, ...[...b.values()].flat().map(Math.abs));
    for (const [key, v] of a) v.forEach((x, i) => expect(Math.abs(x - b.get(key)![i]) / most, key).toBeLessThan(1e-6));
  };
  it.each(DEMOS)('%s: those of the position shown, after moving away and back the same, and those of the engine', async (file) => {
    const s = opened(demo(file.replace('.json', '')));
    const at = [wrenches(s), s.motion.ledger()] as const;
    const ofEngine = analyse(s.doc.mechanism()).ledger;
    expect(at[1].lines.map((l) => [l.member, l.load])).toEqual(ofEngine.lines.map((l) => [l.member, expect.closeTo(l.load, 6)]));
    const from = s.motion.position();
    // A pawl holds one way; the other is tried then.
    for (const by of [0.02, -0.02]) {
      s.motion.turnBy(by);
      s.motion.turnTo(from);
      if (Math.abs(s.motion.position() - from) < 1e-12) break;
    }
    if (Math.abs(s.motion.position() - from) > 1e-12) return;
    await new Promise((r) => setTimeout(r, 100));
    alike(wrenches(s), at[0]);
  });
  it('leave nothing of the design that was open before', () => {
    const s = opened(demo('screw-gate'));
    s.motion.turnBy(3);
    s.doc.edit('Note', (d) => ({ ...d, note: 'x' }));
    expect(s.motion.position()).toBeCloseTo(3, 6);
    s.doc.begin('another');
    s.doc.show(demo('screw-gate'), '');
    expect(s.motion.position()).toBeCloseTo(0, 9);
  });
  it('play in one loop, however often it is begun and paused', async () => {
    const s = opened(demo('swing-footbridge'));
    let frames = 0;
    const asked = new Set<unknown>();
    vi.stubGlobal('requestAnimationFrame', (f: (t: number) => void) => {
      const id = setTimeout(() => (asked.delete(id), frames++, f(performance.now())), 5);
      asked.add(id);
      return id;
    });
    vi.stubGlobal('cancelAnimationFrame', (id: ReturnType<typeof setTimeout>) => (asked.delete(id), clearTimeout(id)));
    for (const d of [1, 0, 1, -1, 0, 1] as const) s.motion.play(d);
    expect(asked.size).toBe(1);
    await vi.waitFor(() => expect(frames).toBeGreaterThan(3));
    expect(asked.size).toBe(1);
    s.motion.play(0);
    expect(asked.size).toBe(0);
  });
});

describe('building in the workbench', () => {
  it('goes on at what is selected, else at the shaft that the source drives', () => {
    const s = opened(demo('paddle-winding-gear'));
    expect(s.commands.memberAt()).toBe('crankshaft');
    s.chosen.select('member', 'paddle');
    expect(s.commands.memberAt()).toBe('paddle');
    s.chosen.select('element', 'z2');
    expect(s.commands.memberAt()).toBe('pinionshaft');
    s.chosen.select('joint', 'j-paddle');
    expect(s.commands.memberAt()).toBe('paddle');
    expect(opened(emptyDesign('New')).commands.memberAt()).toBeUndefined();
  });
  it('puts loads on what is selected, and shows a load case without touching the design', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.commands.addLoad('torque', { member: 'pinionshaft' });
    expect(s.doc.design().loads.at(-1)).toMatchObject({ type: 'torque', member: 'pinionshaft' });
    expect(s.chosen.selection()).toMatchObject({ kind: 'load' });
    s.doc.undo();
    const [water] = s.doc.design().loads;
    s.doc.edit('Add a load case', (d) => ({ ...d, cases: [{ id: 'c', name: 'Holding', loads: [{ load: water.id, factor: 0 }] }] }));
    const stated = s.motion.ledger().sources[0].load;
    s.doc.loadCase.set('c');
    expect(s.motion.ledger().sources[0].load).toBeLessThan(stated / 2);
    expect(s.doc.design().loads).toContain(water);
    s.doc.loadCase.set(undefined);
    expect(s.motion.ledger().sources[0].load).toBe(stated);
  });
  it('begins an empty design with a source on an input shaft, and grows stage by stage with named steps', () => {
    const s = opened(emptyDesign('New'));
    s.commands.beginWith('motor', 'Motor');
    expect(s.chosen.selection()).toMatchObject({ kind: 'source' });
    expect(insert(s, 'spur', s.doc.design().members[0].id)).toBeUndefined();
    expect(name(s)).toBe('Insert spur pair');
    expect(s.chosen.selection()?.kind).toBe('coupling');
    expect(insert(s, 'rack', s.doc.design().members[1].id)).toBeUndefined();
    expect(s.found.findings().filter((f) => f.severity !== 'note')).toEqual([]);
    expect(s.found.snapshot()!.ratios.at(-1)!.exact).toBe('-40π/3');
    s.doc.undo();
    expect(s.doc.design().members).toHaveLength(2);
    // What is gone is no longer selected.
    expect(s.chosen.selection()).toBeUndefined();
    s.doc.redo();
    expect(s.doc.design().members).toHaveLength(3);
  });

  it('says why a stage cannot begin at a member, and changes nothing', () => {
    const s = opened(demo('paddle-winding-gear'));
    expect(insert(s, 'spur', 'paddle')).toMatch(/turns about its own axis/);
    expect(s.doc.history().done).toEqual([]);
  });

  it('says what a change brings about, and takes the cure', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.doc.edit('Teeth of Spur wheel', (d) => withItem(d, 'z2', { teeth: 90 }));
    expect(s.found.consequences().map((f) => f.code)).toContain('too-far-apart');
    const [cure] = curesFor(
      s.doc.design(),
      s.found.consequences().find((f) => f.code === 'too-far-apart')!,
    );
    s.commands.cure(cure);
    expect(s.found.consequences()).toEqual([]);
    expect(s.found.findings().filter((f) => f.severity !== 'note')).toEqual([]);
    expect(name(s)).toBe(cure.label);
  });

  it('undoes what was done here and leaves what came from elsewhere; where both changed a thing, says so', () => {
    const s = opened(demo('paddle-winding-gear'));
    const teeth = (id: string): unknown => s.doc.item({ kind: 'element', id })!['teeth'];
    const change = (id: string, n: number): unknown => s.doc.edit(`Teeth of ${id}`, (d) => withItem(d, id, { teeth: n }));
    const was = teeth('z2');
    change('z2', 90);
    const { elements } = s.doc.design();
    s.doc.adopt({ ...s.doc.design(), note: 'Seen in spring', elements: elements.map((e) => (e.id === 'z1' ? { ...e, teeth: 20 } : e)) });
    change('z1', 21);
    s.doc.undo();
    expect(teeth('z1')).toBe(20);
    s.doc.undo();
    expect([teeth('z2'), teeth('z1'), s.doc.design().note]).toEqual([was, 20, 'Seen in spring']);
    s.doc.redo();
    expect([teeth('z2'), teeth('z1')]).toEqual([90, 20]);
    s.doc.adopt({ ...s.doc.design(), elements: s.doc.design().elements.map((e) => (e.id === 'z2' ? { ...e, teeth: 95 } : e)) });
    s.doc.undo();
    expect(teeth('z2')).toBe(95);
    expect(s.doc.said()).toMatch(/^Cannot undo “Teeth of z2”: the same was changed elsewhere since. Element “.*” was changed in both$/);
    expect(s.doc.history().done).toEqual([]);
  });

  it('refuses what the schema does not let through, in words, and keeps the design', () => {
    const s = opened(demo('paddle-winding-gear'));
    const before = s.doc.design();
    expect(s.doc.edit('x', (d) => withItem(d, 'z2', { teeth: 2.5 }))).toMatch(/whole number/);
    expect(s.doc.design()).toBe(before);
  });
});

describe('selecting', () => {
  it('adds and takes away besides what is selected, and one choice clears the rest', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.chosen.select('member', 'paddle');
    s.chosen.select('member', 'crankshaft', true);
    s.chosen.select('element', 'rack', true);
    expect(s.chosen.selected().map((x) => x.id)).toEqual(['rack', 'crankshaft', 'paddle']);
    s.chosen.select('member', 'crankshaft', true);
    expect(s.chosen.selected().map((x) => x.id)).toEqual(['rack', 'paddle']);
    s.chosen.select('element', 'rack', true);
    expect(s.chosen.selected().map((x) => x.id)).toEqual(['paddle']);
    expect(s.chosen.isSelected('paddle')).toBe(true);
    s.chosen.select('joint', 'j-crank');
    expect(s.chosen.selected().map((x) => x.id)).toEqual(['j-crank']);
  });

  it('deletes all that is selected in one step, with what hangs on it, once that is agreed to', () => {
    const s = opened(demo('paddle-winding-gear'));
    const asked: Deletion[] = [];
    s.commands.asked.subscribe((d) => asked.push(d));
    s.chosen.select('member', 'pinionshaft');
    s.chosen.select('member', 'paddle', true);
    s.commands.removeSelected();
    expect(s.doc.design().members).toHaveLength(3);
    expect(asked[0]).toMatchObject({ name: '2 items' });
    expect(asked[0].effects.along.map((x) => x.word)).toContain('coupling');
    asked[0].go();
    expect(s.doc.design().members.map((m) => m.id)).toEqual(['crankshaft']);
    expect(s.doc.design().couplings.map((c) => c.id)).toEqual(['c-hold']);
    expect(name(s)).toBe('Delete 2 items');
    s.doc.undo();
    expect(s.doc.design().members).toHaveLength(3);
  });

  it('copies, pastes, duplicates and groups', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.commands.paste();
    expect(s.doc.history().done).toEqual([]);
    s.chosen.select('member', 'paddle');
    expect(readDesign(JSON.parse(s.commands.copy()!)).design?.members.map((m) => m.id)).toContain('paddle');
    s.commands.paste();
    expect(s.doc.design().members).toHaveLength(4);
    expect(s.doc.item(s.chosen.selection())).toMatchObject({ name: 'Paddle 2' });
    s.commands.duplicate(['paddle']);
    expect(s.doc.design().members).toHaveLength(5);
    s.chosen.select('member', 'paddle');
    s.commands.group();
    expect(s.doc.design().groups).toBeUndefined();
    s.chosen.select('member', 'crankshaft', true);
    s.commands.group();
    expect(s.doc.design().groups).toMatchObject([{ items: ['crankshaft', 'paddle'] }]);
  });

  it('hides, isolates and shows through', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.view.toggleSet('hidden', ['paddle']);
    expect([...s.view.hidden()]).toEqual(['paddle']);
    s.view.toggleSet('hidden', ['paddle']);
    expect(s.view.hidden().size).toBe(0);
    s.view.isolate(['paddle']);
    expect([...s.view.hidden()].sort()).toEqual(['crankshaft', 'frame', 'pinionshaft']);
    s.view.toggleSet('through', ['paddle', 'crankshaft']);
    expect(s.view.through().size).toBe(2);
  });
});

describe('turning by hand', () => {
  it('names the ends of the way as people see them: top and bottom, a value, a dead centre', () => {
    const s = opened(demo('paddle-winding-gear'));
    const { lower, upper } = s.motion.hand().interval(s.motion.source()!.coordinate);
    expect([lower, upper].map((e) => s.motion.endText(e!)).sort()).toEqual(['Paddle guide bottom', 'Paddle guide top']);
    const lift = demo('inspection-lift');
    const open = opened({
      ...lift,
      joints: lift.joints.map((j) => (j.id === 'j-foot' ? { id: j.id, name: 'Foot guide', type: j.type, parent: j.parent, child: j.child } : j)),
      elements: lift.elements.map((e) => (e.id === 'spindle' ? { ...e, length: 9000 } : e)),
    });
    const ends = open.motion.hand().interval(open.motion.source()!.coordinate);
    const texts = [ends.lower, ends.upper].map((e) => (e ? open.motion.endText(e) : ''));
    expect(texts.some((t) => t.startsWith('dead centre: '))).toBe(true);
    // The arms, 1600 mm between their end pins, lie flat with the foot 1600 mm from the fixed side: 149.9 mm on, at 6 mm a turn.
    const flat = (1600 - 1450.092459259) / 6;
    expect([ends.lower, ends.upper].some((e) => e?.dead && Math.abs(Math.abs(e.at) - flat) < 0.01)).toBe(true);
  });

  it('leads the train to its stops and names them; the place becomes a stop of its own', () => {
    const s = opened(demo('paddle-winding-gear'));
    s.motion.turnTo(5);
    expect(s.motion.position()).toBeCloseTo(5, 9);
    expect(s.commands.takeFromHand('j-paddle', 'upper')).toBeUndefined();
    expect(s.doc.design().joints[2].upper).toBeCloseTo(5 * 17 * Math.PI, 3);
    expect(name(s)).toBe('Set upper stop here');
    s.motion.turnTo(9);
    expect(s.motion.held()).toMatchObject({ joint: 'j-paddle', which: 'upper' });
    expect(s.motion.position()).toBeCloseTo(5, 4);
    // The pawl lets nothing back but the lost motion.
    s.motion.turnTo(1);
    expect(s.motion.held()).toMatchObject({ joint: 'c-hold', which: 'pawl' });
  });

  it('keeps the position over an edit', () => {
    const s = opened(demo('swing-footbridge'));
    s.motion.turnTo(3);
    s.doc.edit('Rename', (d) => ({ ...d, name: 'Another' }));
    expect(s.motion.position()).toBeCloseTo(3, 9);
  });

  it('moves a member alone for a look, and puts it back', () => {
    const s = opened(demo('swing-footbridge'));
    const m = s.motion.worked().pose;
    const before = Float64Array.from(m.placements);
    s.motion.look(0, 1);
    expect(s.motion.looking()).toBe(true);
    expect([...m.placements]).not.toEqual([...before]);
    s.motion.endLook();
    expect([...m.placements]).toEqual([...before]);
    expect(s.motion.looking()).toBe(false);
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
    expect(s.found.snapshot()!.freedoms).toBe(2);
    const [first, second] = s.motion.worked().compiled.sources.map((x) => x.coordinate);
    s.motion.turnTo(2);
    expect(s.motion.worked().pose.q[second]).toBeCloseTo(0, 9);
    s.motion.driver.set(1);
    s.motion.turnTo(1);
    const m = s.motion.worked().pose;
    expect(m.q[second] / m.kinematics.scale[second]).toBeCloseTo(1, 9);
    expect(m.q[first] / m.kinematics.scale[first]).toBeCloseTo(2, 9);
  });

  it('shows a freedom moving, and leaves everything as it was', async () => {
    const d = demo('swing-footbridge');
    const s = opened({ ...d, sources: [] });
    const m = s.motion.worked().pose;
    const before = Float64Array.from(m.u);
    let moved = 0;
    s.motion.moved.subscribe(() => moved++);
    s.motion.showFreedom(s.found.snapshot()!.freedomVectors[0]);
    expect(s.motion.looking()).toBe(true);
    await vi.waitFor(() => expect(s.motion.looking()).toBe(false), { timeout: 6000, interval: 100 });
    expect(moved).toBeGreaterThan(10);
    expect([...m.u]).toEqual([...before]);
    expect(s.doc.design().sources).toEqual([]);
  });

  it('previews without making a step', () => {
    const s = opened(demo('paddle-winding-gear'));
    const before = s.doc.design();
    s.doc.preview({ ...before, name: 'Dragged' });
    expect(s.doc.history().done).toEqual([]);
    s.doc.preview(before);
    expect(s.doc.design()).toBe(before);
  });
});
