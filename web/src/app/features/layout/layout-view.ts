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
import { FRAME, Id } from '@unirota/core/document';
import { faceAt, isShape } from '@unirota/core/elements';
import { show } from '@unirota/core/units';
import { RemarksService } from '../../state/remarks.service';
import { ShapesService } from '../../state/shapes.service';
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
import { SavedView } from '@unirota/core/document';
import {
  type Held,
  featuresOf,
  memberFrame,
  movedFrame,
  withCouplingLifted,
  withView,
  withViewNamed,
  withoutView,
  withStopFaces,
} from '@unirota/core';
import { type Vec3, WORLD, distance, toLocalPoint, vmap } from '@unirota/core/math';
import { BuildBar, type Spot } from './build-bar';
import { Scene, View } from '../../scene/scene';
import { RunService } from '../../state/run.service';
import { TextField } from '../../ui/text-field';
import { RAMP, type Tone, colouring, topSpeeds } from './colours';
import { DrivingDrag } from './driving-drag';
import { faceName, heldText } from './held-text';
import { drawLabels, drawTriad } from './labels';
import { OverlapChecks } from './overlap-checks';
import { PlacingDrag } from './placing-drag';
import { Named } from '../../ui/named';

const VIEWS: readonly { view: View; label: string }[] = [
  { view: 'front', label: $localize`Front` },
  { view: 'side', label: $localize`Side` },
  { view: 'top', label: $localize`Top` },
  { view: 'free', label: $localize`Free` },
];
const AXES = ['x', 'y', 'z'] as const;
/** A load that is put so near to a place of a shape, px, is put at the place. */
const NEAR_PLACE = 12;

/** The true-size train in space: seen along any axis or freely, coloured by speed or by member, and moved by dragging. */
@Component({
  selector: 'uni-layout',
  imports: [
    Named,
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
  providers: [OverlapChecks],
  host: { '[class.building]': 'view.placing()' },
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
  private readonly shapes = inject(ShapesService);
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
  protected readonly modes = DRAG_MODES;
  protected readonly mode = signal<DragMode>('train');
  protected readonly hint = computed(() => DRAG_MODES.find((m) => m.mode === this.mode())!.hint);
  protected readonly tools = signal(false);
  private readonly bar = viewChild(BuildBar);
  protected startBuilding(): void {
    this.commands.build();
    this.tools.set(false);
  }
  protected startMeasuring(): void {
    this.commands.measure();
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
  protected readonly checks = inject(OverlapChecks);
  private readonly remarks = inject(RemarksService);
  protected readonly facePick = signal<{ joint: Id; which: 'lower' | 'upper'; first?: string } | undefined>(undefined);
  private placement?: PlacingDrag;
  private scene?: Scene;
  private readonly ready = signal(false);
  private drag?: DrivingDrag;
  private pressed?: { x: number; y: number };
  private lastTap = 0;

  private readonly tone = computed<Tone>(() => (this.theme.dark() ? 'dark' : 'light'));
  protected readonly ramp = computed(() => RAMP[this.tone()]);
  protected readonly legend = computed(() => {
    const s = topSpeeds(this.motion.ledger().lines);
    return { turn: s.turn > 0 ? `${show(s.turn, 3)} rev/min` : '', slide: s.slide > 0 ? this.units().text(s.slide, 'mm/s', 3) : '' };
  });
  private readonly colour = computed(() => colouring(this.tone(), this.colouring(), this.motion.ledger().lines, this.doc.design().members));

  constructor() {
    // Panels belong to the step in which they were opened.
    effect(() => {
      const step = this.view.step();
      untracked(() => {
        this.tools.set(false);
        if (step !== 'layout') this.view.placing.set(undefined);
      });
    });
    effect(() => {
      if (!this.ready() || !this.shown()) return;
      const w = this.motion.worked();
      this.scene?.withContents(this.shapes.drawn());
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
      const building = this.view.placing() !== undefined;
      if (!this.ready() || !this.shown()) return;
      if (n > this.counted && (building || (this.scene?.heldAll && !this.scene.holdsAll()))) this.scene?.fit();
      this.counted = n;
      // For whoever asks whether all of it is in sight.
      this.canvas().nativeElement.dataset['whole'] = String(this.scene?.holdsAll() ?? false);
    });
    effect(() => {
      const spots = this.view.placing() ? this.spots() : [];
      if (this.ready()) this.scene?.spots(spots, spots.length ? (at) => this.bar()?.place(at) : undefined);
    });
    effect(() => {
      const s = this.section();
      if (this.ready()) this.scene?.cut(s.axis, s.share);
    });
    effect(() => {
      this.doc.design();
      const places = this.remarks.open().flatMap(({ head: { subject, text } }) => (subject?.kind === 'place' ? [{ ...subject, text }] : []));
      if (this.ready()) this.scene?.showRemarks(places);
    });
    effect(() => {
      // What was found at another state of the design says nothing of this one.
      this.doc.design();
      this.checks.said.set('');
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
    this.scene.onDrawn = (labels) => drawLabels(this.labelHost().nativeElement, labels);
    this.scene.onTurned = (to) => {
      const svg = this.triad()?.nativeElement;
      if (svg) drawTriad(svg, to);
    };
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
    this.scene.withContents(this.shapes.drawn());
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
      contents: this.shapes.drawn(),
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
      overlapOnTheWay: () => void this.checks.way(),
      setPhases: () => void this.checks.phases(),
      loadAtPoint: (type) => this.pickLoad(type),
      pickPlace: (take) => {
        this.facePick.set(undefined);
        this.loadPick.set(undefined);
        this.placePick.set(take);
      },
      dragBy: (mode) => this.setMode(mode),
    };
  }

  protected readonly heldText = (h: Held): string => heldText(h, (x) => this.motion.endParts(x), this.couplingName(h.joint));

  /** Lets the pawl, or one-way clutch, that holds go. */
  protected liftPawl(id: Id): void {
    this.doc.edit($localize`Lift ${this.couplingName(id)}`, (d) => withCouplingLifted(d, id));
    this.chosen.select('coupling', id);
  }

  private readonly triad = viewChild<ElementRef<SVGElement>>('triad');

  protected flip(what: 'circles' | 'distances' | 'travel'): void {
    this.dims.update((s) => ({ ...s, [what]: !s[what] }));
  }
  protected readonly cuts = [{ value: '', label: $localize`none` }, ...AXES.map((a) => ({ value: a, label: `across ${a}` }))];
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
    this.doc.edit($localize`Save view`, (d) => withView(d, v));
  }
  protected goView(v: SavedView): void {
    this.scene?.goTo(v);
  }
  protected renameView(id: Id, name: string): void {
    this.doc.edit($localize`Rename the view`, (d) => withViewNamed(d, id, name));
  }
  protected dropView(id: Id): void {
    this.doc.edit($localize`Delete the view`, (d) => withoutView(d, id));
  }

  protected checkHere(): Promise<void> {
    return this.checks.here((teeth, bodies) => this.scene?.trouble(teeth, bodies));
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
  /** What takes the next point that is clicked. */
  protected readonly placePick = signal<((member: Id, at: [number, number, number]) => void) | undefined>(undefined);
  private takePlace(member: Id, at: Vector3): void {
    const take = this.placePick();
    this.placePick.set(undefined);
    const [x, y, z] = this.inMember(member, at);
    take?.(member, [x, y, z].map((v) => Math.round(10 * v) / 10) as [number, number, number]);
  }
  /** A point of the picture in the frame of a member, mm. */
  private inMember(member: Id, at: Vector3): Vec3 {
    const p = this.motion.worked().pose;
    return toLocalPoint(movedFrame(p, member, p.compiled.structure.frames.get(member) ?? WORLD), [at.x, at.y, at.z]);
  }
  /** Puts the load at the point that was clicked, as the member states it: in its own frame, where it stands now. */
  private takePoint(member: Id, at: Vector3): void {
    const type = this.loadPick();
    if (!type) return;
    this.loadPick.set(undefined);
    if (member === FRAME) return this.doc.said.set($localize`What is fixed bears any load: click a member that moves`);
    const there = this.inMember(member, at);
    const point = this.placeNear(member, there) ?? there;
    this.commands.addLoad(type, { member, point: vmap(point, (x) => Math.round(10 * x) / 10) });
  }
  private takeFace(element: Id, normal: Vector3 | undefined, at: Vector3): void {
    const f = this.facePick();
    if (!f || !normal) return;
    const face = this.faceUnder(element, normal, at);
    if (!f.first) return this.facePick.set({ ...f, first: face });
    this.facePick.set(undefined);
    const faces: [string, string] = [f.first, face];
    const trouble = this.doc.edit($localize`Set ${f.which} stop by faces`, (d) => withStopFaces(d, f.joint, f.which, faces));
    this.doc.said.set(trouble ?? $localize`The ${f.which} stop follows these faces`);
  }

  /** The place of a shape on a member that is as good as under the pointer, in the member's frame, mm. */
  private placeNear(member: Id, point: Vec3): Vec3 | undefined {
    const d = this.doc.design();
    const host = memberFrame(d, member);
    const near = NEAR_PLACE * (this.scene?.perPixel() ?? 0);
    const places = d.elements
      .filter((e) => e.member === member && isShape(e))
      .flatMap((e) => featuresOf(d, e))
      .map((f) => toLocalPoint(host, f.point))
      .filter((p) => distance(p, point) < near);
    return places.sort((a, b) => distance(a, point) - distance(b, point))[0];
  }
  /** The face under a point of the world: a shape's own flat face, else the side of the element's extent. */
  private faceUnder(element: Id, normal: Vector3, at: Vector3): string {
    const e = this.doc.design().elements.find((x) => x.id === element);
    if (e && isShape(e)) {
      const p = this.motion.worked().pose;
      const f = movedFrame(p, e.member, p.compiled.elementFrames.get(e.id) ?? WORLD);
      const key = faceAt(e, toLocalPoint(f, [at.x, at.y, at.z]), [normal.x, normal.y, normal.z]);
      if (key) return `${element}:${key}`;
    }
    return faceName(element, normal);
  }

  protected setMode(m: DragMode): void {
    this.mode.set(m);
    this.placed.set('');
  }

  /** Begins to place the member under the pointer. */
  private beginPlacing(e: PointerEvent, member: Id, at: Vector3): void {
    const begun = PlacingDrag.begin(this.scene!, this.mode(), this.doc.design(), member, at, e);
    if (typeof begun === 'string') return this.placed.set(begun);
    this.chosen.select('member', member);
    this.placement = begun;
    this.drag = undefined;
    this.capture(e);
  }
  private place(e: PointerEvent, p: PlacingDrag): void {
    if (!p.move(e, this.units())) return;
    this.placed.set(p.text);
    this.doc.preview(p.after!);
  }
  private endPlacing(): void {
    const p = this.placement;
    this.placement = undefined;
    if (!p) return;
    this.doc.preview(p.before);
    if (p.after) {
      const trouble = this.doc.edit($localize`Place a member`, () => p.after!);
      if (trouble) this.placed.set(trouble);
    }
  }
  /** The pointer has something of the train: it does not turn the view. */
  private capture(e: PointerEvent): void {
    this.scene?.holdCamera(true);
    (e.target as HTMLElement).setPointerCapture(e.pointerId);
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
    if (this.facePick() || this.loadPick() || this.placePick()) return;
    if (!hit || hit.member === FRAME || hit.body === 0) return;
    const mode = this.mode();
    if (mode !== 'train' && mode !== 'alone') {
      return this.beginPlacing(e, hit.member, hit.at);
    }
    const begun = DrivingDrag.begin(this.scene, this.motion.worked().pose, hit.body, hit.at, e);
    if (!begun) return;
    this.motion.play(0);
    this.drag = begun;
    this.capture(e);
  }

  private leadTo(coordinate: number, value: number): void {
    if (this.mode() === 'alone') this.motion.look(coordinate, value);
    else this.motion.lead(coordinate, value);
  }

  protected drive(e: PointerEvent): void {
    if (this.placement) return this.place(e, this.placement);
    const by = this.drag?.move(e);
    if (this.drag && by) this.leadTo(this.drag.coordinate, this.motion.worked().pose.q[this.drag.coordinate] + by);
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
      if (this.placePick() && hit) this.takePlace(hit.member, hit.at);
      else if (this.loadPick() && hit) this.takePoint(hit.member, hit.at);
      else if (this.facePick() && hit) this.takeFace(hit.element, hit.normal, hit.at);
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
