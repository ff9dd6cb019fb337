import {
  AfterViewInit,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  effect,
  inject,
  input,
  signal,
  untracked,
  viewChild,
} from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatRadioButton, MatRadioGroup } from '@angular/material/radio';
import { MatSlider, MatSliderThumb } from '@angular/material/slider';
import { Vector3 } from 'three';
import { Choice } from '../../ui/choice';
import { scaleSqrt } from 'd3-scale';
import { FRAME, Id } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { ThemeService } from '../../state/theme.service';
import { Icon } from '../../ui/icon';
import { UnitsService } from '../../state/units.service';
import type { LayoutLook } from '../../scene/look';
import { PictureService } from '../../state/picture.service';
import { LoadsService } from '../../state/loads.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { DRAG_MODES, type DragMode, type LayoutTools, ViewService } from '../../state/view.service';
import { MotionService } from '../../state/motion.service';
import { CommandsService } from '../../state/commands.service';
import { Design, SavedView } from '@unirota/core/document';
import {
  type Held,
  Placing,
  movedFrame,
  placeAlong,
  placeAround,
  placingOf,
  withCouplingLifted,
  withView,
  withViewNamed,
  withoutView,
  withStopFaces,
  slidesAt,
} from '@unirota/core';
import { WORLD, toLocalPoint, vmap } from '@unirota/core/math';
import { LongWork } from '../../engine/long-work';
import { BuildBar, type Spot } from './build-bar';
import { Scene, View } from '../../scene/scene';
import { RunService } from '../../state/run.service';
import type { Overlaps } from '../../engine/checks.worker';
import { TextField } from '../../ui/text-field';

const VIEWS: readonly { view: View; label: string }[] = [
  { view: 'front', label: 'Front' },
  { view: 'side', label: 'Side' },
  { view: 'top', label: 'Top' },
  { view: 'free', label: 'Free' },
];
const STILL = { light: '#d8d2c4', dark: '#5d5850' };
const RAMP = { light: ['#e4dcc8', '#d9b255', '#a3581c'], dark: ['#6b655a', '#b58a2a', '#f0a35e'] };
const MEMBERS = {
  light: ['#d9b98a', '#a9c0ae', '#c9a79c', '#b3b6c9', '#d3cf9c', '#a8c2c6'],
  dark: ['#8a6c3d', '#53705f', '#7d564a', '#5b5f7d', '#77733f', '#4f7074'],
};

/** Colours that elements may be given, light and dark. */
const GIVEN: Readonly<Record<string, { light: string; dark: string }>> = {
  brass: { light: '#d8b25a', dark: '#a8842f' },
  bronze: { light: '#b9824a', dark: '#87592c' },
  graphite: { light: '#6f6c67', dark: '#4a4844' },
  steel: { light: '#b4bcc2', dark: '#6d767d' },
  verdigris: { light: '#7fae9a', dark: '#4b7d6b' },
  oxide: { light: '#b9614c', dark: '#8b4333' },
  sand: { light: '#dccba4', dark: '#8f8160' },
  oak: { light: '#b58f5f', dark: '#7b5c37' },
  slate: { light: '#8a94a6', dark: '#566072' },
};
const AXES = ['x', 'y', 'z'] as const;

interface Drag {
  coordinate: number;
  slide: boolean;
  at: Vector3;
  axis: Vector3;
  last: Vector3 | number;
}

interface Placement {
  mode: DragMode;
  placing: Placing;
  before: Design;
  start: Vector3 | number;
  after?: Design;
  text?: string;
}

/** Size of a label in the layout, px: a letter's width, what is round the text, and its height. */
const LABEL = { letter: 7, edge: 12, height: 20 };

/** The true-size train in space: seen along any axis or freely, coloured by speed or by member, and moved by dragging. */
@Component({
  selector: 'uni-layout',
  imports: [
    TextField,
    MatIconButton,
    MatButton,
    BuildBar,
    Choice,
    Icon,
    MatCheckbox,
    MatProgressBar,
    MatRadioButton,
    MatRadioGroup,
    MatSlider,
    MatSliderThumb,
  ],
  templateUrl: './layout-view.html',
  styleUrl: './layout-view.scss',
  host: { '[class.building]': 'view.building()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LayoutView implements AfterViewInit {
  /**
   * Whether the picture is on the page now: it is kept for the life of the page, and rests while another step of the work is
   * shown.
   */
  readonly shown = input(true);
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly view = inject(ViewService);
  protected readonly motion = inject(MotionService);
  protected readonly commands = inject(CommandsService);
  protected readonly units = inject(UnitsService).now;
  private readonly theme = inject(ThemeService);
  private readonly destroy = inject(DestroyRef);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly views = VIEWS;
  protected readonly side = signal<View>('free');
  protected readonly colouring = signal<'speed' | 'member'>('speed');
  protected readonly noPicture = signal(false);
  protected readonly loads = inject(LoadsService);
  private readonly pictures = inject(PictureService);
  private readonly top = viewChild.required<ElementRef<HTMLElement>>('top');
  private readonly labelHost = viewChild.required<ElementRef<HTMLElement>>('labels');
  protected readonly heavy = inject(LongWork);
  protected readonly modes = DRAG_MODES;
  protected readonly mode = signal<DragMode>('train');
  protected readonly hint = computed(() => DRAG_MODES.find((m) => m.mode === this.mode())!.hint);
  protected readonly tools = signal(false);
  private readonly bar = viewChild(BuildBar);
  protected startBuilding(): void {
    this.commands.build();
    this.tools.set(false);
  }
  protected showSpots(list: readonly Spot[]): void {
    const of = this.motion.worked().compiled.structure.bodyOf;
    this.spots.set(list.map((x) => ({ element: x.element, body: of.get(x.member) ?? 0, at: x.point })));
  }
  /** Elements at the last look for new ones. */
  private counted = 0;
  private readonly spots = signal<readonly { element: Id; body: number; at: Spot['point'] }[]>([]);
  protected readonly seesSpot = (k: number): boolean => this.scene?.sees(k) ?? true;
  protected readonly dims = signal({ circles: false, distances: false, travel: false });
  protected readonly section = signal<{ axis: 'x' | 'y' | 'z' | undefined; share: number }>({ axis: undefined, share: 0.5 });
  protected readonly placed = signal('');
  protected readonly runs = inject(RunService);
  protected readonly overlapSaid = signal('');
  protected readonly facePick = signal<{ joint: Id; which: 'lower' | 'upper'; first?: string } | undefined>(undefined);
  private placement?: Placement;
  private scene?: Scene;
  private readonly ready = signal(false);
  private drag?: Drag;
  private pressed?: { x: number; y: number };
  private lastTap = 0;

  /** Top speeds of turning and of sliding members: each kind has a scale of its own. */
  protected readonly scale = computed(() => {
    const lines = this.motion.ledger().lines;
    return {
      turn: Math.max(0, ...lines.filter((l) => l.motion === 'turn').map((l) => Math.abs(l.speed))),
      slide: Math.max(0, ...lines.filter((l) => l.motion === 'slide').map((l) => Math.abs(l.speed))),
    };
  });
  protected readonly ramp = computed(() => RAMP[this.theme.dark() ? 'dark' : 'light']);
  protected readonly legend = computed(() => {
    const s = this.scale();
    return { turn: s.turn > 0 ? `${show(s.turn, 3)} rev/min` : '', slide: s.slide > 0 ? this.units().text(s.slide, 'mm/s', 3) : '' };
  });
  private readonly colour = computed<(m: Id, given?: string) => string>(() => {
    const tone = this.theme.dark() ? 'dark' : 'light';
    const lines = new Map(this.motion.ledger().lines.map((l) => [l.member, l]));
    const { turn, slide } = this.scale();
    const ramp = scaleSqrt<string>().domain([0, 0.5, 1]).range(RAMP[tone]).clamp(true);
    const order = new Map(this.doc.design().members.map((m, i) => [m.id, i]));
    const byMember = this.colouring() === 'member';
    return (m, given) => {
      const own = given === undefined ? undefined : GIVEN[given];
      if (own && (byMember || m === FRAME)) return own[tone];
      if (m === FRAME) return STILL[tone];
      if (byMember) return MEMBERS[tone][(order.get(m) ?? 0) % MEMBERS[tone].length];
      const l = lines.get(m);
      if (!l || l.motion === 'still') return STILL[tone];
      const top = l.motion === 'slide' ? slide : turn;
      return ramp(top > 0 ? Math.abs(l.speed) / top : 0);
    };
  });

  constructor() {
    // Panels belong to the step in which they were opened.
    effect(() => {
      const step = this.view.step();
      untracked(() => {
        this.tools.set(false);
        if (step !== 'layout') this.view.building.set(false);
      });
    });
    effect(() => {
      if (!this.ready() || !this.shown()) return;
      const w = this.motion.worked();
      this.scene?.show(w.compiled, w.pose);
    });
    effect(() => {
      if (this.ready()) this.scene?.colours(this.colour());
    });
    effect(() => {
      if (!this.ready() || !this.shown()) return;
      const u = this.units();
      const numbers = this.loads.numbers();
      const text = (v: readonly number[], unit: string): string => {
        const size = Math.hypot(v[0], v[1], v[2]);
        return size > 0 ? u.text(size, unit, 4) : '';
      };
      this.scene?.showStatedLoads(this.loads.arrows() === 'none');
      this.scene?.showForces(
        this.loads.shown().map((f) => ({ ...f, text: numbers ? [text(f.force, 'N'), text(f.moment, 'N·m')].filter(Boolean).join(', ') : undefined })),
        this.loads.scale(),
      );
    });
    effect(() => {
      const s = this.chosen.selection();
      if (this.ready()) this.scene?.pick(s?.kind === 'element' ? { element: s.id } : s?.kind === 'member' ? { member: s.id } : {});
    });
    effect(() => {
      const dims = this.dims();
      const units = this.units();
      if (this.ready()) this.scene?.dimension(dims, (mm) => units.text(mm, 'mm', 7));
    });
    effect(() => {
      const hidden = this.view.hidden(),
        through = this.view.through();
      if (this.ready()) this.scene?.visibility(hidden, through);
    });
    effect(() => {
      // What is added is brought into sight: while building always, else where it leaves the picture.
      const n = this.doc.design().elements.length;
      const building = this.view.building();
      if (!this.ready() || !this.shown()) return;
      if (n > this.counted && (building || (this.scene?.heldAll && !this.scene.holdsAll()))) this.scene?.fit();
      this.counted = n;
      // For whoever asks whether all of it is in sight.
      this.canvas().nativeElement.dataset['whole'] = String(this.scene?.holdsAll() ?? false);
    });
    effect(() => {
      const spots = this.view.building() ? this.spots() : [];
      if (this.ready()) this.scene?.spots(spots, spots.length ? (at) => this.bar()?.place(at) : undefined);
    });
    effect(() => {
      const s = this.section();
      if (this.ready()) this.scene?.cut(s.axis, s.share);
    });
    effect(() => {
      // What was found at another state of the design says nothing of this one.
      this.doc.design();
      this.overlapSaid.set('');
      if (this.ready()) this.scene?.trouble([], []);
    });
    effect(() => {
      this.theme.dark();
      if (!this.ready()) return;
      this.scene?.theme(...this.themeNow());
    });
  }

  /** The picture's context takes its time to come up: the page shows everything else first. */
  ngAfterViewInit(): void {
    let gone = false;
    this.destroy.onDestroy(() => (gone = true));
    requestAnimationFrame(() => setTimeout(() => !gone && this.begin()));
  }

  private begin(): void {
    const canvas = this.canvas().nativeElement;
    try {
      this.scene = new Scene(canvas);
    } catch {
      this.noPicture.set(true);
      return;
    }
    this.scene.onDrawn = (labels) => this.drawLabels(labels);
    this.scene.onTurned = (to) => this.drawTriad(to);
    const top = this.top().nativeElement;
    // What is fitted stands below the buttons, on however many lines they are.
    const sized = (): void => {
      if (!this.scene) return;
      this.scene.covered = top.offsetTop + top.offsetHeight;
      this.scene.size(canvas.clientWidth, canvas.clientHeight);
    };
    const watch = new ResizeObserver(sized);
    watch.observe(canvas);
    watch.observe(top);
    this.destroy.onDestroy(() => {
      watch.disconnect();
      this.pictures.draw = this.pictures.drawn = this.pictures.look = undefined;
      this.scene?.dispose();
    });
    this.motion.moved.pipe(takeUntilDestroyed(this.destroy)).subscribe(() => this.shown() && this.scene?.update());
    const w = this.motion.worked();
    const { scene } = this;
    this.pictures.draw = (into, width, height) => scene.drawInto(into, width, height);
    this.pictures.drawn = () => scene.drawn();
    this.pictures.look = () => this.lookNow();
    sized();
    this.scene.show(w.compiled, w.pose);
    this.scene.look('free');
    this.counted = w.compiled.design.elements.length;
    // A design that keeps views opens in its first one.
    const [first] = this.keptViews();
    if (first) this.scene.goTo(first);
    this.ready.set(true);
    this.view.offerTools(this.offered());
    this.destroy.onDestroy(() => this.view.offerTools(undefined));
  }
  private themeNow(): LayoutLook['theme'] {
    const css = getComputedStyle(this.host.nativeElement);
    const of = (name: string): string => css.getPropertyValue(name).trim();
    return [of('--ink'), of('--brass-line'), this.theme.dark(), of('--violet'), of('--teal'), of('--sheet')];
  }
  private lookNow(): LayoutLook {
    const colour = this.colour();
    const { elements } = this.doc.design();
    const colours = Object.fromEntries(elements.map((e) => [`${e.member} ${e.colour ?? ''}`, colour(e.member, e.colour)]));
    return {
      view: this.scene!.view(),
      colours,
      theme: this.themeNow(),
      hidden: [...this.view.hidden()],
      through: [...this.view.through()],
      section: this.section(),
      dimensions: this.dims(),
    };
  }
  /** What the commands of the page may ask of the layout. */
  private offered(): LayoutTools {
    return {
      fitPicture: () => this.fit(),
      dimension: (which) => this.flip(which),
      cutAcross: (axis) => this.cutAxis(this.section().axis === axis ? '' : axis),
      saveView: () => this.keepView(),
      overlapHere: () => void this.checkHere(),
      overlapOnTheWay: () => void this.checkWay(),
      setPhases: () => void this.phaseAll(),
      loadAtPoint: (type) => this.pickLoad(type),
      dragBy: (mode) => this.setMode(mode),
    };
  }

  /** What holds the train under the hand, in a sentence. */
  protected heldText(h: Held): string {
    if (h.leaves) return `“${this.couplingName(h.joint)}” would leave engagement: ${h.leaves} ends here`;
    if (h.which === 'pawl') return `Held by “${this.couplingName(h.joint)}”`;
    const { name, seen, at } = this.motion.endParts(h);
    if (h.dead === 'dead-point') return `Held at a dead centre: the links at “${name}” come into line${at}`;
    if (h.dead) return `Held where the links reach no farther: “${name}”${at}`;
    return seen ? `Held by the ${seen} stop of “${name}”` : `Held by the stop of “${name}”${at}`;
  }

  /** Lets the pawl, or one-way clutch, that holds go. */
  protected liftPawl(id: Id): void {
    this.doc.edit(`Lift ${this.couplingName(id)}`, (d) => withCouplingLifted(d, id));
    this.chosen.select('coupling', id);
  }

  /** Labels stand over the picture and follow it without change detection. */
  private drawLabels(labels: readonly { text: string; tone: string; x: number; y: number }[]): void {
    const host = this.labelHost().nativeElement;
    while (host.childElementCount > labels.length) host.lastElementChild!.remove();
    // What would stand over another goes below it.
    const boxes: { x: number; y: number; w: number }[] = [];
    labels.forEach((l, k) => {
      const w = LABEL.letter * l.text.length + LABEL.edge;
      let { y } = l;
      for (let tries = 0, hit = true; hit && tries < 2 * boxes.length; tries++) {
        const over = boxes.find((b) => Math.abs(b.x - l.x) < (b.w + w) / 2 && Math.abs(b.y - y) < LABEL.height - 0.5);
        hit = over !== undefined;
        if (over) y = over.y + LABEL.height;
      }
      boxes.push({ x: l.x, y, w });
      let el = host.children[k] as HTMLElement | undefined;
      if (!el) host.appendChild((el = document.createElement('span')));
      if (el.textContent !== l.text) el.textContent = l.text;
      el.className = l.tone;
      el.style.transform = `translate(${l.x.toFixed(1)}px, ${y.toFixed(1)}px) translate(-50%, -50%)`;
    });
  }

  /** The world's axes as they are seen now: ends of three lines in the corner, x, y, z two by two. */
  private drawTriad(to: Float64Array): void {
    const svg = this.triad()?.nativeElement;
    if (!svg) return;
    for (let k = 0; k < 3; k++) {
      const g = svg.children[k];
      const [x, y] = [26 * to[2 * k], -26 * to[2 * k + 1]];
      g.children[0].setAttribute('x2', x.toFixed(1));
      g.children[0].setAttribute('y2', y.toFixed(1));
      g.children[1].setAttribute('x', (1.28 * x).toFixed(1));
      g.children[1].setAttribute('y', (1.28 * y + 4).toFixed(1));
      // What points at the eye is not named: its letter would lie on the others.
      g.children[1].setAttribute('opacity', Math.hypot(x, y) < 6 ? '0' : '1');
    }
  }
  private readonly triad = viewChild<ElementRef<SVGElement>>('triad');

  protected flip(what: 'circles' | 'distances' | 'travel'): void {
    this.dims.update((s) => ({ ...s, [what]: !s[what] }));
  }
  protected readonly cuts = [{ value: '', label: 'none' }, ...AXES.map((a) => ({ value: a, label: `across ${a}` }))];
  protected cutAxis(picked: string): void {
    this.section.update((s) => ({ ...s, axis: AXES.find((a) => a === picked) }));
  }
  protected cutShare(share: number): void {
    this.section.update((s) => ({ ...s, share }));
  }

  /** Members that are selected, through whatever of theirs is. */
  protected readonly picks = computed<Id[]>(() => {
    const d = this.doc.design();
    return [
      ...new Set(
        this.chosen.selected().flatMap((s) => {
          if (s.kind === 'member') return [s.id];
          const e = s.kind === 'element' ? d.elements.find((x) => x.id === s.id) : undefined;
          return e ? [e.member] : [];
        }),
      ),
    ];
  });
  protected showAll(): void {
    this.view.showAll();
  }

  protected readonly keptViews = computed(() => this.doc.design().views ?? []);
  protected keepView(): void {
    const v = this.scene?.view();
    if (!v) return;
    this.doc.edit('Save view', (d) => withView(d, v));
  }
  protected goView(v: SavedView): void {
    this.scene?.goTo(v);
  }
  protected renameView(id: Id, name: string): void {
    this.doc.edit('Rename the view', (d) => withViewNamed(d, id, name));
  }
  protected dropView(id: Id): void {
    this.doc.edit('Delete the view', (d) => withoutView(d, id));
  }

  /** Overlap of true profiles at this pose, in the worker; shown in place with its area. */
  protected async checkHere(): Promise<void> {
    const m = this.motion.worked().pose;
    const found = await this.heavy.run('Overlap at this pose', (api) => api.here(this.doc.design(), Float64Array.from(m.u)));
    if (!found) return;
    this.scene?.trouble(found.teeth, found.bodies);
    this.overlapSaid.set(this.overlapText(found) || 'Nothing overlaps at this position.');
  }
  protected async checkWay(): Promise<void> {
    const found = await this.heavy.run('Overlap from stop to stop', (api, report) => api.way(this.doc.design(), 40, report));
    if (!found) return this.overlapSaid.set('The check was stopped.');
    this.overlapSaid.set(
      found.length
        ? `At ${found.length} of 40 positions, first at ${show(found[0].at, 4)}: ${this.overlapText(found[0])}`
        : 'Nothing overlaps at 40 positions from stop to stop.',
    );
  }
  /** Members that overlap at any instant of the run that is shown. */
  protected async checkRun(): Promise<void> {
    const shown = this.runs.shown();
    if (!shown) return;
    const run = shown.result;
    // Of the design as it was when the run was computed.
    const found = await this.heavy.run('Overlap over the run', (api, report) =>
      api.over(shown.compiled.design, run.time.slice(0, run.frames), run.q.slice(0, run.frames * run.coordinates), report),
    );
    if (!found) return this.overlapSaid.set('The check was stopped.');
    const worst = found.reduce<(typeof found)[number] | undefined>((w, x) => (!w || x.bodies[0].depth > w.bodies[0].depth ? x : w), undefined);
    this.overlapSaid.set(
      worst
        ? `At ${found.length} of ${run.frames} instants, first at ${show(found[0].at, 4)} s, deepest at ${show(worst.at, 4)} s: ${this.overlapText(worst)}`
        : `No members overlap at the ${run.frames} instants of the run.`,
    );
  }
  /** The worst of what overlaps, in words. */
  private overlapText({ teeth, bodies }: Overlaps): string {
    const of = (id: Id): string => this.doc.design().elements.find((e) => e.id === id)?.name ?? id;
    const all = [
      ...teeth.map((o) => `${this.couplingName(o.coupling)}: profiles overlap by ${this.units().text(o.area, 'mm²', 3)}`),
      ...bodies.map((o) => `${of(o.elements[0])} and ${of(o.elements[1])}: ${this.units().text(o.depth, 'mm', 3)} deep`),
    ];
    return all.slice(0, 4).join('; ') + (all.length > 4 ? `; and ${all.length - 4} more` : '');
  }
  /** Teeth into spaces in all meshes, in the worker, with the angles said. */
  protected async phaseAll(): Promise<void> {
    const r = await this.heavy.run('Phases of all meshes', (api) => api.phases(this.doc.design()));
    if (!r) return;
    if (r.steps.length) this.doc.edit('Put teeth into spaces', () => r.design);
    const name = (id: Id): string => this.doc.design().elements.find((e) => e.id === id)?.name ?? id;
    const said =
      [
        ...r.steps.map((s) => `${name(s.element)} turned by ${s.unit === 'deg' ? `${show(s.add, 6)}°` : this.units().text(s.add, 'mm', 6)}`),
        ...r.findings.map((f) => this.units().sentence(f.message)),
      ].join('; ') || 'All teeth mesh already.';
    // After the edit has cleared what was said of the state before.
    setTimeout(() => this.overlapSaid.set(said));
  }

  protected couplingName(id: Id): string {
    return this.doc.design().couplings.find((c) => c.id === id)?.name ?? id;
  }

  protected pickFaces(which: 'lower' | 'upper'): void {
    const s = this.chosen.selection();
    if (s?.kind === 'joint') this.facePick.set({ joint: s.id, which });
  }
  /** The kind of load that the next click puts at a point. */
  protected readonly loadPick = signal<string | undefined>(undefined);
  protected pickLoad(type: string): void {
    this.facePick.set(undefined);
    this.loadPick.update((now) => (now === type ? undefined : type));
  }
  /** Puts the load at the point that was clicked, as the member states it: in its own frame, where it stands now. */
  private takePoint(member: Id, at: Vector3): void {
    const type = this.loadPick();
    if (!type) return;
    this.loadPick.set(undefined);
    if (member === FRAME) return this.doc.said.set('What is fixed bears any load: click a member that moves');
    const p = this.motion.worked().pose;
    const f = movedFrame(p, member, p.compiled.structure.frames.get(member) ?? WORLD);
    const point = toLocalPoint(f, [at.x, at.y, at.z]);
    this.commands.addLoad(type, { member, point: vmap(point, (x) => Math.round(10 * x) / 10) });
  }
  private takeFace(element: Id, normal: Vector3 | undefined): void {
    const f = this.facePick();
    if (!f || !normal) return;
    const k = [normal.x, normal.y, normal.z].map(Math.abs);
    const axis = k.indexOf(Math.max(...k));
    const face = `${element}:${[normal.x, normal.y, normal.z][axis] > 0 ? '+' : '-'}${'xyz'[axis]}`;
    if (!f.first) return this.facePick.set({ ...f, first: face });
    this.facePick.set(undefined);
    const faces: [string, string] = [f.first, face];
    const trouble = this.doc.edit(`Set ${f.which} stop by faces`, (d) => withStopFaces(d, f.joint, f.which, faces));
    this.doc.said.set(trouble ?? `The ${f.which} stop follows these faces`);
  }

  protected setMode(m: DragMode): void {
    this.mode.set(m);
    this.placed.set('');
  }

  /** Begins to place the member under the pointer. */
  private beginPlacing(e: PointerEvent, member: Id, hit: Vector3): boolean {
    const scene = this.scene!;
    const placing = placingOf(this.doc.design(), member);
    if (!placing) {
      this.placed.set('This member has no parallel axis that drives it: place it by typed values in its data sheet.');
      return false;
    }
    const axis = new Vector3(...placing.axis),
      centre = new Vector3(...placing.centre);
    const mode = this.mode();
    const start =
      mode === 'along'
        ? scene.alongLine(e.clientX, e.clientY, hit, axis)
        : scene.onPlane(e.clientX, e.clientY, hit, axis)?.sub(centre).projectOnPlane(axis);
    if (start === undefined) {
      this.placed.set('Seen like this the movement cannot be told: turn the view.');
      return false;
    }
    this.chosen.select('member', member);
    this.placement = { mode, placing, before: this.doc.design(), start };
    this.drag = undefined;
    scene.holdCamera(true);
    (e.target as HTMLElement).setPointerCapture(e.pointerId);
    this.hitAt = hit;
    return true;
  }
  private hitAt = new Vector3();

  private place(e: PointerEvent): void {
    const p = this.placement,
      scene = this.scene;
    if (!p || !scene) return;
    const axis = new Vector3(...p.placing.axis),
      centre = new Vector3(...p.placing.centre);
    if (p.mode === 'along') {
      const now = scene.alongLine(e.clientX, e.clientY, this.hitAt, axis);
      if (now === undefined) return;
      let by = Math.round(now - (p.start as number));
      const snapped = Math.abs(by - p.placing.line) < 5;
      if (snapped) by = p.placing.line;
      p.after = placeAlong(p.before, p.placing, by);
      p.text = `${this.units().text(by, 'mm')} along the axis${snapped ? ', in line' : `, ${this.units().text(p.placing.line - by, 'mm', 4)} out of line`}`;
    } else {
      const now = scene.onPlane(e.clientX, e.clientY, this.hitAt, axis)?.sub(centre).projectOnPlane(axis);
      const was = p.start as Vector3;
      if (!now || now.lengthSq() < 1 || was.lengthSq() < 1) return;
      if (p.mode === 'round') {
        const raw = Math.atan2(axis.dot(was.clone().cross(now)), was.dot(now));
        const step = Math.PI / 12;
        const near = Math.round(raw / step) * step;
        const angle = Math.abs(raw - near) < step / 4 ? near : Math.round((raw * 180) / Math.PI) * (Math.PI / 180);
        p.after = placeAround(p.before, p.placing, p.placing.distance, angle);
        p.text = `turned by ${show((angle * 180) / Math.PI, 5)}° round the driving axis`;
      } else {
        let d = Math.max(1, Math.round(10 * (p.placing.distance + now.length() - was.length())) / 10);
        const w = p.placing.working;
        const snapped = w !== undefined && Math.abs(d - w) < Math.max(2, 0.04 * w);
        if (snapped) d = w;
        p.after = placeAround(p.before, p.placing, d, 0);
        p.text = `${this.units().text(d, 'mm', 6)} apart${snapped ? ', the working distance' : w === undefined ? '' : d > w ? `, open by ${this.units().text(d - w, 'mm', 4)}` : `, tight by ${this.units().text(w - d, 'mm', 4)}`}`;
      }
    }
    this.placed.set(p.text);
    this.doc.preview(p.after);
  }
  private endPlacing(): void {
    const p = this.placement;
    this.placement = undefined;
    if (!p) return;
    this.doc.preview(p.before);
    if (p.after) {
      const trouble = this.doc.edit('Place a member', () => p.after!);
      if (trouble) this.placed.set(trouble);
    }
  }

  protected look(view: View): void {
    this.side.set(view);
    this.scene?.look(view);
  }
  protected fit(): void {
    this.scene?.fit();
  }

  /** Press on a member: it follows the pointer, and the train with it. Press beside it: the view turns. */
  protected press(e: PointerEvent): void {
    if (!this.scene || e.button !== 0) return;
    this.pressed = { x: e.clientX, y: e.clientY };
    const hit = this.scene.hit(e.clientX, e.clientY);
    if (this.facePick() || this.loadPick()) return;
    if (!hit || hit.member === FRAME || hit.body === 0) return;
    const mode = this.mode();
    if (mode !== 'train' && mode !== 'alone') {
      this.beginPlacing(e, hit.member, hit.at);
      return;
    }
    const m = this.motion.worked().pose;
    const i = m.kinematics.bodyCoordinate[hit.body];
    m.updateAxes();
    const vec = (a: Float64Array, k: number): Vector3 => new Vector3(a[3 * i], a[3 * i + 1], a[3 * i + 2]).multiplyScalar(k);
    const axis = vec(m.axisNow, m.kinematics.sign[i]);
    const slide = slidesAt(m.kinematics, i);
    const at = slide ? hit.at : vec(m.pointNow, 1000);
    const last = slide ? this.scene.alongLine(e.clientX, e.clientY, at, axis) : this.arm(e, hit.at, axis, at);
    if (last === undefined) return;
    this.motion.play(0);
    this.drag = { coordinate: i, slide, at: slide ? at : at.clone().addScaledVector(axis, hit.at.clone().sub(at).dot(axis)), axis, last };
    this.scene.holdCamera(true);
    (e.target as HTMLElement).setPointerCapture(e.pointerId);
  }

  /** From the axis to the pointer, across the axis. Seen edge on, the pointer's height stands for the turn. */
  private arm(e: PointerEvent, hit: Vector3, axis: Vector3, at: Vector3): Vector3 | undefined {
    const p = this.scene?.onPlane(e.clientX, e.clientY, hit, axis);
    return p?.sub(at).projectOnPlane(axis);
  }

  private leadTo(coordinate: number, value: number): void {
    if (this.mode() === 'alone') this.motion.look(coordinate, value);
    else this.motion.lead(coordinate, value);
  }

  protected drive(e: PointerEvent): void {
    if (this.placement) return this.place(e);
    const d = this.drag,
      scene = this.scene;
    if (!d || !scene) return;
    const m = this.motion.worked().pose;
    if (d.slide) {
      const now = scene.alongLine(e.clientX, e.clientY, d.at, d.axis);
      if (now === undefined) return;
      this.leadTo(d.coordinate, m.q[d.coordinate] + (now - (d.last as number)) / 1000);
      d.last = now;
      return;
    }
    const now = this.arm(e, d.at, d.axis, d.at);
    const was = d.last as Vector3;
    if (!now || now.lengthSq() < 1 || was.lengthSq() < 1) return;
    const turn = Math.atan2(d.axis.dot(was.clone().cross(now)), was.dot(now));
    this.leadTo(d.coordinate, m.q[d.coordinate] + turn);
    d.last = now;
  }

  protected release(e: PointerEvent): void {
    this.endPlacing();
    if (this.mode() === 'alone') this.motion.endLook();
    const moved = this.pressed && Math.hypot(e.clientX - this.pressed.x, e.clientY - this.pressed.y) > 4;
    if (this.pressed && !moved) {
      const hit = this.scene?.hit(e.clientX, e.clientY);
      const twice = e.timeStamp - this.lastTap < 350;
      this.lastTap = e.timeStamp;
      const add = e.ctrlKey || e.shiftKey;
      if (this.loadPick() && hit) this.takePoint(hit.member, hit.at);
      else if (this.facePick() && hit) this.takeFace(hit.element, hit.normal);
      else if (this.chosen.picking()) {
        if (hit) this.chosen.select('element', hit.element);
      } else if (!hit) {
        this.chosen.only(undefined);
      } else if (twice || hit.member === FRAME) this.chosen.select('element', hit.element, add);
      else this.chosen.select('member', hit.member, add);
    }
    this.drag = undefined;
    this.pressed = undefined;
    this.scene?.holdCamera(false);
  }
}
