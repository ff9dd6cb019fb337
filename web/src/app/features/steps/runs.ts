import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChildren } from '@angular/core';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatDialog } from '@angular/material/dialog';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatProgressBar } from '@angular/material/progress-bar';
import { type Quantity, type Instants, coordinatesAt, figuresOf, framesWithin, thinned, thinnedOver } from '@unirota/core';
import { type Field, type KeptRun, RUN_ENDS } from '@unirota/core/document';
import { writeTable } from '@unirota/core/formats';
import { lastUpTo, lineAt } from '@unirota/core/math';
import { show, motionUnit, listedUpTo } from '@unirota/core/units';
import { CURVE_COLOURS, Chart, type Curve } from '../../ui/chart';
import { Choice } from '../../ui/choice';
import { type Column, DataTable, type Row } from '../../ui/data-table';
import { Icon } from '../../ui/icon';
import { type Committed, QuantityField } from '../../ui/quantity-field';
import { RunBar } from './run-bar';
import { StandIns } from './stand-ins';
import type { FilmOf } from './film-dialog';
import { FilmService } from '../../state/film.service';
import { PictureService } from '../../state/picture.service';
import { downloadCsv, downloadDrawing, downloadPicture, imageOf } from '../../state/downloads';
import { PASSING, RunService, type ShownRun } from '../../state/run.service';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { LoadsService } from '../../state/loads.service';
import { MotionService } from '../../state/motion.service';
import { CommandsService } from '../../state/commands.service';
import { TextField } from '../../ui/text-field';
import { Named } from '../../ui/named';

const DURATION: Field = { key: 'duration', label: $localize`Duration`, kind: 'number', unit: 's', above: 0, max: 1e6 };
const FRAMES: Field = { key: 'frames', label: $localize`Instants`, kind: 'whole', min: 2, max: 20_000 };
const FROM: Field = { key: 'from', label: $localize`Charts from`, kind: 'number', unit: 's', min: 0, max: 1e6 };
const TO: Field = { ...FROM, key: 'to', label: $localize`Charts to` };
const UNTIL = [
  { value: 'time', label: $localize`for a set time` },
  { value: 'turn', label: $localize`one turn` },
  { value: 'stop to stop', label: $localize`the other stop` },
  { value: 'rest', label: $localize`it stands still` },
];
/** As many events stand in the list before it is cut. */
const EVENTS = 60;

/** Figures of one curve, over the part of the time that is looked at. */
interface Figures {
  readonly label: string;
  readonly colour: string;
  readonly dashed: boolean;
  readonly least: string;
  readonly greatest: string;
  readonly mean: string;
  readonly rms: string;
  readonly curve: Curve;
  here(time: number): number;
}
/** Curves of one unit in one chart. */
interface Pane {
  readonly unit: string;
  readonly heading: string;
  readonly curves: readonly Curve[];
  readonly rows: readonly Figures[];
}

/**
 * Runs in time: sources follow their motion profiles, or are let go; runs are kept
 * under names, replayed and laid over each other, and any quantity is charted.
 */
@Component({
  selector: 'uni-runs',
  imports: [
    Named,
    DataTable,
    TextField,
    Chart,
    Choice,
    Icon,
    MatButton,
    MatCheckbox,
    MatIconButton,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatProgressBar,
    QuantityField,
    RunBar,
    StandIns,
  ],
  templateUrl: './runs.html',
  styleUrls: ['./section.scss', './runs.scss'],
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Runs {
  protected readonly doc = inject(DesignService);
  protected readonly motion = inject(MotionService);
  protected readonly commands = inject(CommandsService);
  protected readonly runs = inject(RunService);
  protected readonly units = inject(UnitsService).now;
  protected readonly show = show;
  protected readonly duration = DURATION;
  protected readonly frames = FRAMES;
  protected readonly until = UNTIL;
  protected readonly from = FROM;
  protected readonly to = TO;
  protected readonly sought = signal('');
  private readonly picked = signal<readonly string[] | undefined>(undefined);
  protected readonly part = signal<readonly [number, number] | undefined>(undefined);
  protected readonly trouble = signal('');
  private readonly charts = viewChildren(Chart);
  private readonly pictures = inject(PictureService);
  private readonly dialog = inject(MatDialog);
  private readonly loads = inject(LoadsService);
  private readonly films = inject(FilmService);

  constructor() {
    this.runs.prepare();
  }

  /** The kept run that is open; none while the passing one is. */
  protected readonly kept = computed(() => this.runs.kept().find((r) => r.id === this.runs.open()));
  protected readonly timed = computed(() => {
    const { until } = this.runs.definition();
    return until !== 'turn' && until !== 'stop to stop';
  });
  protected readonly cases = computed(() => [
    { value: '', label: $localize`as stated` },
    ...(this.doc.design().cases ?? []).map((c) => ({ value: c.id, label: c.name })),
  ]);
  protected readonly list = computed(() =>
    this.runs.kept().map((r) => {
      const ends = { time: undefined, turn: 'one turn', 'stop to stop': 'stop to stop', rest: $localize`until it stands still` }[r.until ?? 'time'];
      const c = this.doc.design().cases?.find((x) => x.id === r.case);
      const how = [
        r.letGo ? 'let go' : '',
        ends ?? `${show(r.duration ?? 10, 4)} s`,
        c ? c.name : '',
        r.starts?.length ? $localize`from a stated place` : '',
        r.recorded ? $localize`as recorded` : '',
      ];
      return { ...r, how: how.filter(Boolean).join(', '), state: this.runs.stateOf(r), over: this.runs.over().has(r.id) };
    }),
  );

  protected readonly events = computed(() => {
    const r = this.runs.shown()?.result;
    return (r?.events ?? []).slice(0, EVENTS);
  });
  /** How many things happen beyond those that are listed. */
  protected readonly beyond = computed(() => Math.max(0, (this.runs.shown()?.result.events.length ?? 0) - EVENTS));
  protected readonly said = computed(() => {
    const run = this.runs.shown();
    if (!run) return '';
    const { result } = run;
    const n = result.events.length;
    const what = run.kept.letGo ? $localize`Let go` : $localize`Run`;
    const finds = [...run.said, ...this.missing(run), ...result.findings.map((f) => this.units().sentence(f.message))].join('; ');
    return $localize`${what}, ${result.frames} instants over ${show(this.runs.lasts(), 4)} s: ${n === 0 ? $localize`nothing in particular happens` : n === 1 ? $localize`one thing happens` : $localize`${n} things happen`}.${finds ? ` ${finds}` : ''}`;
  });

  /** What moved though nothing led it, in words: what an unfinished mechanism lacks. */
  private missing(run: ShownRun): string[] {
    const name = (id: string): string => run.design.members.find((m) => m.id === id)?.name ?? id;
    const u = this.units();
    return run.moved.map(({ members, joint, slide, by }) => {
      const who = listedUpTo(3, members.map(name));
      const where = run.design.joints.find((j) => j.id === joint)?.name ?? joint;
      return $localize`${who} moved, ${where} by ${u.text(Math.abs(by), motionUnit(slide).place, 4)}:way:: nothing leads or holds ${members.length > 1 ? 'them' : 'it'} there`;
    });
  }

  /** What is charted: as picked, else what the sources give and how the last member moves. */
  protected readonly charted = computed<readonly string[]>(() => {
    const all = this.runs.shown()?.quantities ?? [];
    const picked = this.picked()?.filter((k) => all.some((q) => q.key === k));
    if (picked?.length) return picked;
    const speeds = all.filter((q) => q.key.endsWith(':speed'));
    return [...all.filter((q) => /^source:.*:load$/.test(q.key)).slice(0, 1), ...speeds.slice(-1)].map((q) => q.key);
  });
  protected readonly options = computed(() => {
    const words = this.sought().toLowerCase().split(/\s+/).filter(Boolean);
    const on = new Set(this.charted());
    return (this.runs.shown()?.quantities ?? [])
      .filter((q) => on.has(q.key) || words.every((w) => q.label.toLowerCase().includes(w)))
      .map((q) => ({ value: q.key, label: q.label }));
  });
  /** The key of the quantity over which the others are charted; undefined: time. */
  private readonly overKey = signal<string | undefined>(undefined);
  protected readonly over = computed(() => this.runs.shown()?.quantities.find((q) => q.key === this.overKey()));
  protected readonly overOptions = computed(() => [
    { value: '', label: $localize`time` },
    ...(this.runs.shown()?.quantities ?? []).map((q) => ({ value: q.key, label: q.label })),
  ]);
  protected setOver(key: string): void {
    this.overKey.set(key || undefined);
  }
  /** One chart for each unit; in it the quantities of the run that is shown, and dashed those of the runs laid over it. */
  protected readonly panes = computed<Pane[]>(() => {
    const run = this.runs.shown();
    if (!run) return [];
    const groups = new Map<string, Quantity[]>();
    for (const key of this.charted()) {
      const q = run.quantities.find((x) => x.key === key);
      if (q) groups.set(q.unit, [...(groups.get(q.unit) ?? []), q]);
    }
    const others = this.runs.laidOver();
    return [...groups].map(([unit, list]) => {
      const rows = list.flatMap((q, n) =>
        [run, ...others].flatMap((r) => {
          const own = r === run ? q : r.quantities.find((x) => x.key === q.key);
          return own ? [this.row(r, own, n, r !== run, others.length > 0)] : [];
        }),
      );
      for (const { label, unit: of, xs, ys } of this.runs.measured()) {
        if (of !== unit) continue;
        const over = this.over();
        const x = over && ((k: number) => this.valueAt(run, over, xs[k]));
        rows.push(this.figures({ time: xs, frames: xs.length }, (k) => ys[k], { label, unit, colour: 'var(--verdigris)', dashed: true }, x));
      }
      return {
        unit,
        heading: list.length === 1 ? list[0].label : headingOf(unit),
        curves: rows.map((r) => r.curve),
        rows,
      };
    });
  });
  private row(run: ShownRun, q: Quantity, n: number, dashed: boolean, named: boolean): Figures {
    const label = named ? `${q.label} · ${run.kept.name || $localize`this run`}` : q.label;
    const over = run.quantities.find((x) => x.key === this.over()?.key);
    const look = { label, unit: q.unit, colour: CURVE_COLOURS[n % CURVE_COLOURS.length], dashed };
    const row = this.figures(run.result, (f) => q.at(f), look, over && ((f) => over.at(f)));
    const place = /^joint:(.+):place$/.exec(q.key)?.[1];
    const c = run.compiled.structure.coordinates.find((x) => place === (x.order ? `${x.joint.id}:${x.order}` : x.joint.id));
    if (!c) return row;
    // Where the train is seen to stand, between the instants too.
    const unit = c.unit.placesPerSi;
    return {
      ...row,
      here: (t) => {
        coordinatesAt(run.result, t, run.q);
        return run.q[c.index] * unit;
      },
    };
  }
  /** A quantity of a run at a time, straight between its instants. */
  private valueAt({ result }: ShownRun, q: Quantity, time: number): number {
    const k = lastUpTo(result.time, time, result.frames - 2);
    const [a, b] = [result.time[k], result.time[k + 1]];
    const part = b > a ? Math.max(0, Math.min(1, (time - a) / (b - a))) : 0;
    return q.at(k) + part * (q.at(k + 1) - q.at(k));
  }
  /** A curve and its figures over the part of the time that is looked at. */
  private figures(
    of: Instants,
    value: (k: number) => number,
    { unit, ...look }: { label: string; unit: string; colour: string; dashed: boolean },
    over?: (k: number) => number,
  ): Figures {
    const u = this.units();
    const [from, to] = framesWithin(of, this.part());
    const count = to - from + 1;
    const at = (k: number): number => value(from + k);
    const xs = Float64Array.from({ length: count }, (_, k) => of.time[from + k]);
    const { x, y } = thinned(xs, at, count);
    const f = figuresOf(xs, at, count);
    const across = over && thinnedOver(xs, (k) => over(from + k), at, count);
    const curve: Curve = across ? { ...look, xs: across.x, ys: across.y, times: across.time } : { ...look, xs: x, ys: y };
    return {
      ...look,
      here: (t) => lineAt(x, y, t),
      least: u.number(f.least, unit),
      greatest: u.number(f.greatest, unit),
      mean: u.number(f.mean, unit),
      rms: u.number(f.rms, unit),
      curve,
    };
  }
  protected figureColumns(unit: string): Column[] {
    const figures = ['least', 'greatest', 'mean', 'RMS', $localize`at cursor`].map((label) => ({ key: label, label, number: true }));
    return [{ key: 'curve', label: this.units().of(unit) || $localize`Curve` }, ...figures];
  }
  protected figureRows({ rows, unit }: { rows: readonly Figures[]; unit: string }): Row[] {
    const at = this.runs.at();
    return rows.map((r) => ({
      cells: [
        { text: r.label, line: r },
        ...[r.least, r.greatest, r.mean, r.rms, at === undefined ? '' : this.units().number(r.here(at), unit, 5)].map((text) => ({ text })),
      ],
    }));
  }
  protected round(x: number): number {
    return Number(x.toPrecision(6));
  }
  /** The part of the time that the charts show, by its ends. */
  protected setPart(end: 0 | 1, c: Committed): void {
    if (typeof c.value !== 'number') return;
    const lasts = this.runs.lasts();
    const now = this.part() ?? [0, lasts];
    const next = end === 0 ? ([c.value, now[1]] as const) : ([now[0], Math.min(lasts, c.value)] as const);
    this.trouble.set(next[0] < next[1] ? '' : $localize`What the charts show must begin before it ends`);
    if (next[0] < next[1]) this.part.set(next);
  }
  protected keep(keys: string[]): void {
    this.picked.set(keys);
  }

  protected set(key: 'duration' | 'frames', c: Committed): void {
    if (typeof c.value !== 'number') return;
    const what = key === 'duration' ? $localize`Duration of a run` : $localize`Instants of a run`;
    const kept = this.kept();
    if (kept) this.runs.change(kept.id, what, { [key]: c.value });
    else this.doc.editSettings(what, { [key]: c.value });
  }
  protected setUntil(picked: string): void {
    const until = RUN_ENDS.find((end) => end === picked)!;
    const kept = this.kept();
    if (kept) this.runs.change(kept.id, $localize`End of a run`, { until: until === 'time' ? undefined : until });
    else this.runs.until.set(until);
  }
  protected change(what: string, changes: Partial<KeptRun>): void {
    const kept = this.kept();
    if (kept) this.runs.change(kept.id, what, changes);
  }
  protected rename(kept: KeptRun, name: string): void {
    this.trouble.set(this.runs.change(kept.id, $localize`Rename the run`, { name }) ?? '');
  }
  protected beginHere(kept: KeptRun, here: boolean): void {
    this.runs.change(kept.id, $localize`Beginning of a run`, { starts: here ? this.runs.startsHere() : undefined });
  }
  protected drop(run: KeptRun): void {
    this.commands.remove(run.id, run.name);
  }
  protected keepRun(): void {
    const { letGo, until } = this.runs.shown()!.kept;
    const name = letGo
      ? $localize`Let go`
      : until === 'turn'
        ? $localize`One turn`
        : until === 'stop to stop'
          ? $localize`Stop to stop`
          : $localize`Run of ${show(this.runs.lasts(), 4)} s`;
    this.trouble.set(this.runs.keep(name) ?? '');
  }
  protected run(letGo: boolean): void {
    this.motion.play(0);
    this.part.set(undefined);
    void this.runs.run(letGo);
  }
  protected compute(): void {
    this.motion.play(0);
    this.part.set(undefined);
    const kept = this.kept();
    if (kept) void this.runs.computeKept(kept.id);
    else void this.runs.run(!!this.runs.shown()?.kept.letGo);
  }

  /** A film of the run, in the view that the layout has. */
  protected async film(): Promise<void> {
    const { draw, look } = this.pictures;
    const run = this.runs.shown();
    if (!draw) return this.trouble.set($localize`The layout has no picture here: open it once, then make the film`);
    const { FilmDialog } = await import('./film-dialog');
    // A cursor of time runs along it: not over another quantity.
    const first = this.over() ? undefined : this.charts()[0]?.svg;
    const before = this.runs.at() ?? 0;
    const of: FilmOf = {
      name: this.fileName(),
      lasts: this.runs.lasts(),
      films: this.films,
      alone: look && run && this.loads.arrows() === 'none' ? { design: run.design, result: run.result, look: look() } : undefined,
      go: (time) => this.standAt(time),
      draw,
      drawn: () => this.pictures.drawn?.(),
      chart: async () => (first ? { picture: await imageOf(first, Chart.AT_CURSOR), from: Chart.ENDS[0], to: Chart.ENDS[1] } : undefined),
    };
    this.part.set(undefined);
    this.dialog
      .open(FilmDialog, { data: of, width: '440px' })
      .afterClosed()
      .subscribe(() => this.runs.go(before));
  }

  /**
   * Has the train stand as the run has it at a time, for a picture. Without arrows of
   * forces nothing else of the page follows: it would cost more than the pictures.
   */
  private standAt(time: number): void {
    const run = this.runs.shown();
    if (!run || this.loads.arrows() !== 'none') return this.runs.go(time);
    const { pose } = this.motion.worked();
    coordinatesAt(run.result, time, pose.q);
    pose.replace();
  }

  private fileName(): string {
    return `${this.doc.design().name} ${this.kept()?.name ?? 'run'}`;
  }
  /** Everything that is charted, at every recorded instant, in the units that are shown. */
  protected saveCsv(): void {
    const run = this.runs.shown();
    if (!run) return;
    const u = this.units();
    const over = this.over();
    const picked = this.charted().flatMap((key) => run.quantities.find((q) => q.key === key) ?? []);
    const list = over ? [over, ...picked.filter((q) => q !== over)] : picked;
    const rows = Array.from({ length: run.result.frames }, (_, f) => [run.result.time[f], ...list.map((q) => u.shown(q.at(f), q.unit))]);
    downloadCsv(writeTable(['Time, s', ...list.map((q) => `${q.label}, ${u.of(q.unit)}`)], rows), this.fileName());
  }
  protected saveDrawing(k: number, picture: boolean): void {
    const svg = this.charts()[k]?.svg;
    if (!svg) return;
    if (picture) void downloadPicture(svg, this.fileName());
    else downloadDrawing(svg, this.fileName());
  }
  protected readonly passing = PASSING;
}

const HEADINGS: Record<string, string> = {
  N: $localize`Forces`,
  'N·m': $localize`Torques and moments`,
  W: $localize`Powers`,
  mm: $localize`Places`,
  deg: $localize`Places`,
  'mm/s': $localize`Speeds`,
  'rev/min': $localize`Speeds`,
  'mm/s²': $localize`Accelerations`,
  'rad/s²': $localize`Accelerations`,
  J: $localize`Energies`,
};
const headingOf = (unit: string): string => HEADINGS[unit] ?? $localize`Quantities`;
