import {
  AfterViewInit,
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  ElementRef,
  computed,
  effect,
  inject,
  signal,
  viewChild,
} from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Vector3 } from 'three';
import { scaleSqrt } from 'd3-scale';
import { FRAME, Id } from '@unirota/core/design';
import { show } from '@unirota/core/units';
import { ThemeService } from '../services/theme.service';
import { Icon } from '../shared/icon';
import { WorkbenchStore } from '../workbench/workbench.store';
import { Scene, View } from './scene';

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

interface Drag {
  coordinate: number;
  slide: boolean;
  at: Vector3;
  axis: Vector3;
  last: Vector3 | number;
}

/** The true-size train in space: seen along any axis or freely, coloured by speed or by member, and moved by dragging. */
@Component({
  selector: 'uni-layout',
  imports: [Icon],
  templateUrl: './layout-view.html',
  styleUrl: './layout-view.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LayoutView implements AfterViewInit {
  protected readonly store = inject(WorkbenchStore);
  private readonly theme = inject(ThemeService);
  private readonly destroy = inject(DestroyRef);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  protected readonly views = VIEWS;
  protected readonly view = signal<View>('free');
  protected readonly colouring = signal<'speed' | 'member'>('speed');
  protected readonly noPicture = signal(false);
  private scene?: Scene;
  private readonly ready = signal(false);
  private drag?: Drag;
  private pressed?: { x: number; y: number };
  private lastTap = 0;

  /** Top speeds of turning and of sliding members: each kind has a scale of its own. */
  protected readonly scale = computed(() => {
    const lines = this.store.ledger().lines;
    return {
      turn: Math.max(0, ...lines.filter((l) => l.motion === 'turn').map((l) => Math.abs(l.speed))),
      slide: Math.max(0, ...lines.filter((l) => l.motion === 'slide').map((l) => Math.abs(l.speed))),
    };
  });
  protected readonly ramp = computed(() => RAMP[this.theme.dark() ? 'dark' : 'light']);
  protected readonly legend = computed(() => {
    const s = this.scale();
    return { turn: s.turn > 0 ? `${show(s.turn, 3)} rev/min` : '', slide: s.slide > 0 ? `${show(s.slide, 3)} mm/s` : '' };
  });
  private readonly colour = computed<(m: Id) => string>(() => {
    const tone = this.theme.dark() ? 'dark' : 'light';
    const lines = new Map(this.store.ledger().lines.map((l) => [l.member, l]));
    const { turn, slide } = this.scale();
    const ramp = scaleSqrt<string>().domain([0, 0.5, 1]).range(RAMP[tone]).clamp(true);
    const order = new Map(this.store.design().members.map((m, i) => [m.id, i]));
    const byMember = this.colouring() === 'member';
    return (m) => {
      if (m === FRAME) return STILL[tone];
      if (byMember) return MEMBERS[tone][(order.get(m) ?? 0) % MEMBERS[tone].length];
      const l = lines.get(m);
      if (!l || l.motion === 'still') return STILL[tone];
      const top = l.motion === 'slide' ? slide : turn;
      return ramp(top > 0 ? Math.abs(l.speed) / top : 0);
    };
  });

  constructor() {
    effect(() => {
      if (!this.ready()) return;
      const w = this.store.worked();
      this.scene?.show(w.compiled, w.mechanism);
    });
    effect(() => {
      if (this.ready()) this.scene?.colours(this.colour());
    });
    effect(() => {
      const s = this.store.selection();
      if (this.ready()) this.scene?.pick(s?.kind === 'element' ? { element: s.id } : s?.kind === 'member' ? { member: s.id } : {});
    });
    effect(() => {
      const dark = this.theme.dark();
      if (!this.ready()) return;
      const css = getComputedStyle(this.host.nativeElement);
      this.scene?.theme(css.getPropertyValue('--ink').trim(), css.getPropertyValue('--brass-line').trim(), dark);
    });
  }

  ngAfterViewInit(): void {
    const canvas = this.canvas().nativeElement;
    try {
      this.scene = new Scene(canvas);
    } catch {
      this.noPicture.set(true);
      return;
    }
    const watch = new ResizeObserver(() => this.scene?.size(canvas.clientWidth, canvas.clientHeight));
    watch.observe(canvas);
    this.destroy.onDestroy(() => {
      watch.disconnect();
      this.scene?.dispose();
    });
    this.store.moved.pipe(takeUntilDestroyed(this.destroy)).subscribe(() => this.scene?.update());
    const w = this.store.worked();
    this.scene.size(canvas.clientWidth, canvas.clientHeight);
    this.scene.show(w.compiled, w.mechanism);
    this.scene.look('free');
    this.ready.set(true);
  }

  protected jointName(id: Id): string {
    const j = this.store.design().joints.find((x) => x.id === id);
    return `“${j?.name ?? id}”`;
  }

  protected look(view: View): void {
    this.view.set(view);
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
    if (!hit || hit.member === FRAME || hit.body === 0) return;
    const m = this.store.worked().mechanism;
    const i = m.bodyCoordinate[hit.body];
    m.updateAxes();
    const vec = (a: Float64Array, k: number): Vector3 => new Vector3(a[3 * i], a[3 * i + 1], a[3 * i + 2]).multiplyScalar(k);
    const axis = vec(m.axisNow, m.sign[i]);
    const slide = m.motion[i] === 1;
    const at = slide ? hit.at : vec(m.pointNow, 1000);
    const last = slide ? this.scene.alongLine(e.clientX, e.clientY, at, axis) : this.arm(e, hit.at, axis, at);
    if (last === undefined) return;
    this.store.play(0);
    this.drag = { coordinate: i, slide, at: slide ? at : at.clone().addScaledVector(axis, hit.at.clone().sub(at).dot(axis)), axis, last };
    this.scene.holdCamera(true);
    (e.target as HTMLElement).setPointerCapture(e.pointerId);
  }

  /** From the axis to the pointer, across the axis. Seen edge on, the pointer's height stands for the turn. */
  private arm(e: PointerEvent, hit: Vector3, axis: Vector3, at: Vector3): Vector3 | undefined {
    const p = this.scene?.onPlane(e.clientX, e.clientY, hit, axis);
    return p?.sub(at).projectOnPlane(axis);
  }

  protected drive(e: PointerEvent): void {
    const d = this.drag,
      scene = this.scene;
    if (!d || !scene) return;
    const m = this.store.worked().mechanism;
    if (d.slide) {
      const now = scene.alongLine(e.clientX, e.clientY, d.at, d.axis);
      if (now === undefined) return;
      this.store.lead(d.coordinate, m.q[d.coordinate] + (now - (d.last as number)) / 1000);
      d.last = now;
      return;
    }
    const now = this.arm(e, d.at, d.axis, d.at);
    const was = d.last as Vector3;
    if (!now || now.lengthSq() < 1 || was.lengthSq() < 1) return;
    const turn = Math.atan2(d.axis.dot(was.clone().cross(now)), was.dot(now));
    this.store.lead(d.coordinate, m.q[d.coordinate] + turn);
    d.last = now;
  }

  protected release(e: PointerEvent): void {
    const moved = this.pressed && Math.hypot(e.clientX - this.pressed.x, e.clientY - this.pressed.y) > 4;
    if (this.pressed && !moved) {
      const hit = this.scene?.hit(e.clientX, e.clientY);
      const twice = e.timeStamp - this.lastTap < 350;
      this.lastTap = e.timeStamp;
      if (!hit) this.store.selection.set(undefined);
      else if (twice || hit.member === FRAME) this.store.select('element', hit.element);
      else this.store.select('member', hit.member);
    }
    this.drag = undefined;
    this.pressed = undefined;
    this.scene?.holdCamera(false);
  }
}
