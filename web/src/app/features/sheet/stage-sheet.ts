import { ChangeDetectionStrategy, Component, ElementRef, Injector, computed, effect, inject, linkedSignal, signal, untracked } from '@angular/core';
import { MatButton } from '@angular/material/button';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import {
  type Offer,
  STAGE_KINDS,
  StageKind,
  Values,
  MOST_STAGES,
  type Sharing,
  canBegin,
  couldReplace,
  insertStages,
  membersBehind,
  neededBefore,
  offersFor,
  reachRatio,
  stageOf,
  stageProblem,
  stageRatio,
  splitStages,
  stageValues,
  stillNeeded,
  type StillNeeded,
  unusualStage,
} from '@unirota/core';
import { type Design, Field, fieldProblem } from '@unirota/core/document';
import { show } from '@unirota/core/units';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatTooltip } from '@angular/material/tooltip';
import { AnalysisService } from '../../state/analysis.service';
import { Choice, type Option } from '../../ui/choice';
import { Committed, QuantityField } from '../../ui/quantity-field';
import { shownField } from '../../ui/shown-field';
import { UnitsService } from '../../state/units.service';
import { DesignService } from '../../state/design.service';
import { SelectionService } from '../../state/selection.service';
import { MotionService } from '../../state/motion.service';
import { CommandsService } from '../../state/commands.service';

/** Puts a stage into the train: what it is, the ratio wanted or the sizes, what comes of them, and one button. */
@Component({
  selector: 'uni-stage-sheet',
  imports: [MatButton, MatButtonToggle, MatButtonToggleGroup, Choice, MatCheckbox, MatTooltip, QuantityField],
  templateUrl: './stage-sheet.html',
  styleUrl: './stage-sheet.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StageSheet {
  protected readonly doc = inject(DesignService);
  protected readonly chosen = inject(SelectionService);
  protected readonly motion = inject(MotionService);
  protected readonly commands = inject(CommandsService);
  protected readonly units = inject(UnitsService).now;
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  protected readonly from = computed(() => this.chosen.inserting()?.from);
  protected readonly fromName = computed(() => {
    const id = this.from();
    return id === undefined ? 'a new input shaft' : (this.doc.design().members.find((m) => m.id === id)?.name ?? id);
  });
  /** The stage before which, or in whose place, another goes. */
  protected readonly other = computed(() => {
    const at = this.chosen.inserting();
    const coupling = at?.before ?? at?.instead;
    return coupling === undefined ? undefined : stageOf(this.doc.design(), coupling, this.motion.worked().compiled);
  });
  protected readonly heading = computed(() => {
    const at = this.chosen.inserting(),
      s = this.other();
    const d = this.doc.design();
    if (!at || !s) return $localize`Insert stage at`;
    const name = d.groups?.find((g) => g.id === s.group)?.name ?? d.couplings.find((c) => c.id === s.coupling)?.name ?? '';
    return at.before ? $localize`Insert before “${name}”, at` : $localize`Replace “${name}”, at`;
  });
  protected readonly kinds = computed(() => {
    const from = this.from();
    const d = this.doc.design();
    const at = this.chosen.inserting();
    const s = this.other();
    const can = (k: StageKind): boolean => {
      if (s && at?.instead) return couldReplace(d, s, k.kind);
      return (from === undefined || canBegin(d, k.kind, from)) && (!at?.before || k.ratio === 'turns');
    };
    return STAGE_KINDS.map((k) => ({ kind: k, can: can(k) }));
  });
  /** What the stage that is to be replaced does now: turns in for one out, or mm per turn. */
  private readonly present = computed(() => {
    const s = this.other();
    return s && this.chosen.inserting()?.instead ? stageRatio(this.motion.worked().compiled, s) : undefined;
  });
  protected readonly stage = signal<StageKind | undefined>(undefined);
  protected readonly values = linkedSignal<StageKind | undefined, Values>({ source: this.stage, computation: (k) => (k ? this.initial(k) : {}) });
  /** Sizes to begin with, in the design's system. */
  private initial(k: StageKind, given: Values = {}): Values {
    return stageValues(k, given, this.units().inch);
  }
  /** What was typed for a size, where it says more than the number. */
  protected readonly typed = linkedSignal<StageKind | undefined, Record<string, string>>({ source: this.stage, computation: () => ({}) });
  /** The sizes that a person has stated, the latest first. */
  private readonly stated = linkedSignal<StageKind | undefined, readonly string[]>({ source: this.stage, computation: () => [] });
  protected shown(f: Field): Field {
    return shownField(f, this.units());
  }
  /** What was asked for and could not be: by field. */
  protected readonly trouble = linkedSignal<StageKind | undefined, string>({ source: this.stage, computation: () => '' });
  protected readonly ratioField = computed<Field>(() =>
    this.stage()?.ratio === 'travel'
      ? { key: 'ratio', label: $localize`Travel per turn wanted`, kind: 'number', unit: 'mm', above: 0, max: 1e6 }
      : { key: 'ratio', label: $localize`Turns in for one out, wanted`, kind: 'number', above: 0, max: 1e4 },
  );
  protected readonly asked = linkedSignal<StageKind | undefined, number | undefined>({ source: this.stage, computation: () => undefined });
  protected readonly problem = computed(() => {
    const k = this.stage();
    return k ? stageProblem(k, this.values()) : undefined;
  });

  /** How many stages of the kind go in one behind the other, and how the ratio is shared among them. */
  protected readonly count = linkedSignal<StageKind | undefined, number>({ source: this.stage, computation: () => 1 });
  protected readonly sharing = signal<Sharing>('even');
  protected readonly counts = Array.from({ length: MOST_STAGES }, (_, k) => k + 1);
  protected readonly splits = computed(() => {
    const k = this.stage();
    return k?.ratio === 'turns' && k.forRatio !== undefined && !this.other();
  });
  /** The stages that share the ratio; undefined where one does it all. */
  protected readonly split = computed(() => {
    const k = this.stage();
    const n = this.count();
    if (!k?.gives || n === 1 || !this.splits()) return undefined;
    const asked = this.asked() ?? k.gives(this.values());
    return { asked, stages: splitStages(k, asked, n, this.sharing(), this.values()) };
  });
  /** The sizes of every stage that goes in. */
  private readonly sizes = computed<Values[] | undefined>(() => {
    const split = this.split();
    return split ? split.stages?.sizes : [this.values()];
  });
  protected sizesText(v: Values): string {
    const k = this.stage();
    const [first, second] = Object.keys(k?.forRatio?.(2, v) ?? {});
    const counts =
      k?.kind === 'planetary'
        ? `sun ${v['sun']}, planets ${v['planet']}, ring ${v['ring']}`
        : second
          ? `${String(v[first])} : ${String(v[second])}`
          : '';
    return $localize`${counts}, ${show(k?.gives?.(v) ?? 1, 5)} turns for one`;
  }
  /** Whether a size is worked out for each of several stages. */
  protected readonly shared = computed(() => new Set(this.split() ? Object.keys(this.stage()?.forRatio?.(2, this.values()) ?? {}) : []));
  /** What is unusual about doing it in one stage, and how many would do it. */
  protected readonly unusual = computed(() => {
    const k = this.stage();
    const u = k && !this.split() ? unusualStage(k.kind, this.values()) : undefined;
    if (!k || !u) return undefined;
    const wheel = u.teeth ? `, with ${u.teeth} teeth on a wheel` : '';
    return {
      text: `${show(u.ratio, 4)} : 1 is a high ratio for one ${k.label.toLowerCase()}${wheel}; up to ${u.usual} : 1 is usual.`,
      stages: this.splits() && u.stages > 1 && u.stages <= MOST_STAGES ? u.stages : undefined,
    };
  });
  /** Whether so many stages do a ratio within what is usual of their kind. */
  private canSplit(k: StageKind, ratio: number, n: number): boolean {
    const sizes = splitStages(k, ratio, n, this.sharing(), this.initial(k))?.sizes;
    return sizes !== undefined && sizes.every((v) => !unusualStage(k.kind, v));
  }
  protected splitOver(n: number): void {
    const k = this.stage();
    if (this.asked() === undefined) this.asked.set(k?.gives?.(this.values()));
    this.count.set(n);
  }

  /** The stage put in on trial, driven alone from where it begins. */
  private readonly trial = computed(() => {
    const k = this.stage();
    const sizes = this.sizes();
    const made = k && sizes && insertStages(this.doc.design(), { kind: k.kind, from: this.from() }, sizes);
    if (!made) return undefined;
    const end = made.design.joints.find((x) => x.child === made.output);
    const start = made.design.joints.find((x) => x.child === (this.from() ?? made.made[0]));
    if (!end || !start) return undefined;
    const design = {
      ...made.design,
      sources: [{ id: 'trial', name: 'trial', type: 'motor', joint: start.id, speed: 60 }],
      wanted: [],
    } as Design;
    return { design, end: end.id, made: made.made };
  });
  private readonly tried = inject(AnalysisService).of(
    computed(() => this.trial()?.design),
    inject(Injector),
  );
  /** What the stage would do. */
  protected readonly preview = computed(() => {
    const trial = this.trial();
    const tried = this.tried();
    if (!trial || !tried || tried.of !== trial.design) return undefined;
    const { ratios, findings } = tried.is;
    const r = ratios.find((x) => x.to === trial.end);
    const bad = findings.find((f) => f.severity !== 'note' && f.ids.some((id) => trial.made.includes(id)) && f.code !== 'freedom-undriven');
    const turns = r?.unit === 'turn/turn';
    return {
      text: r
        ? turns
          ? $localize`${show(1 / Math.abs(r.decimal), 6)} turns in for one out, ${r.decimal < 0 ? 'opposite' : 'same'} sense (${r.exact.replace('-', '−')})`
          : $localize`one turn moves it ${this.units().text(Math.abs(r.decimal), 'mm', 6)} (${r.exact.replace('-', '−')} mm/rev)`
        : '',
      trouble: bad?.message,
    };
  });

  constructor() {
    effect(() => {
      // Opened again: begins with nothing chosen.
      const asked = this.chosen.inserting()?.kind;
      const offered = untracked(this.kinds).find((k) => k.kind.kind === asked && k.can);
      this.stage.set(undefined);
      if (offered) untracked(() => this.choose(offered.kind));
      // The focus goes along, to the first kind that can be put in here.
      setTimeout(() => this.host.nativeElement.querySelector<HTMLElement>('ul button:not(:disabled), .ask input, .row input')?.focus());
    });
  }

  /** What the wanted outputs that wait for a stage still need behind the member at which it begins. */
  protected readonly needed = computed<StillNeeded[]>(() => {
    const from = this.from(),
      s = this.other();
    const d = this.doc.design();
    if (from === undefined) return [];
    return s ? neededBefore(d, this.motion.ledger(), membersBehind(d, s)) : stillNeeded(d, this.motion.ledger(), from);
  });
  protected neededText(n: StillNeeded): string {
    return n.kind === 'travel' ? this.units().text(n.ratio, 'mm/rev', 6) : $localize`${show(n.ratio, 6)} turns in for one out`;
  }
  protected choose(k: StageKind): void {
    this.stage.set(k);
    const present = this.present();
    const left = this.needed().find((n) => n.kind === k.ratio);
    // In the place of another: what that one does.
    const asked = present ?? left?.ratio;
    const reached = asked === undefined ? undefined : reachRatio(k, asked, this.initial(k));
    if (asked === undefined || !reached) return;
    if (present === undefined && reached.why) {
      // One stage cannot do what is left to do: as many as can.
      const n = this.splits() ? this.counts.slice(1).find((k2) => this.canSplit(k, asked, k2)) : undefined;
      if (n === undefined) return;
      this.asked.set(asked);
      this.count.set(n);
      return;
    }
    // Sizes that do what is left to do, where this kind can do it all.
    this.values.set(this.initial(k, reached.sizes));
    this.asked.set(asked);
  }
  protected visible(f: Field): boolean {
    return !f.when || f.when(this.values());
  }
  protected offers(f: Field): Offer[] {
    const k = this.stage();
    return k ? offersFor(k.kind, f.key, this.values(), this.units().inch) : [];
  }
  protected put(f: Field, value: unknown): void {
    if (value === undefined) return;
    this.values.update((v) => {
      const next = { ...v, [f.key]: value as number };
      return this.stage()?.follow?.(next, f.key, this.stated()) ?? next;
    });
    this.stated.update((keys) => [f.key, ...keys.filter((k) => k !== f.key)]);
    this.asked.set(undefined);
  }
  protected commit(f: Field, c: Committed): void {
    const { typed, value } = c;
    this.put(f, value);
    this.typed.update((all) => {
      const { [f.key]: _, ...others } = all;
      return typed === undefined ? others : { ...others, [f.key]: typed };
    });
  }
  protected optionsOf(f: Field): Option[] {
    return (f.choices ?? []).map((c) => ({ value: c, label: c }));
  }
  protected pick(f: Field, v: string): void {
    this.put(f, f.kind === 'choice' || v.includes('/') ? v : Number(v));
  }
  protected askRatio(c: Committed): void {
    const k = this.stage();
    if (!k || typeof c.value !== 'number') return;
    const asked = c.value;
    const reached = reachRatio(k, asked, this.values());
    if (!reached) return;
    this.values.update((v) => ({ ...v, ...reached.sizes }));
    this.typed.update((all) => Object.fromEntries(Object.entries(all).filter(([key]) => !(key in reached.sizes))));
    this.asked.set(asked);
  }
  /** How near the sizes come to what was asked for, in words; nothing where nothing was asked. */
  protected readonly reached = computed(() => {
    const k = this.stage(),
      asked = this.asked();
    if (!k?.gives || asked === undefined) return undefined;
    const split = this.split();
    if (split && !split.stages) return $localize`${this.count()} stages of this kind cannot do it: each would be out of its bounds`;
    const gives = split?.stages?.gives ?? k.gives(this.values());
    const off = gives / asked - 1;
    if (Math.abs(off) < 5e-7) return $localize`These sizes give it exactly`;
    const by = `${off > 0 ? '+' : '−'}${show(Math.abs(off) * 100, 3)} %`;
    const why = split ? undefined : reachRatio(k, asked, this.values())?.why;
    return $localize`The nearest is ${this.units().number(gives, this.ratioField().unit, 6)} (${by})${why ? `: ${why}` : ''}`;
  });
  protected takeChoice(c: Values): void {
    this.values.update((v) => ({ ...v, ...c }));
    this.typed.set({});
  }
  protected choiceText(c: Values): string {
    const k = this.stage();
    if (k?.kind === 'planetary' && 'sun' in c) return $localize`Sun ${c['sun']}, planets ${c['planet']}, ring ${c['ring']}`;
    return Object.entries(c)
      .map(([key, v]) => `${k?.fields.find((f) => f.key === key)?.label ?? key}: ${v}`)
      .join(', ');
  }
  protected insert(): void {
    const k = this.stage();
    if (!k) return;
    const wrong =
      k.fields
        .filter((f) => this.visible(f))
        .map((f) => fieldProblem(f, this.values()[f.key]))
        .find(Boolean) ?? this.problem()?.message;
    const at = this.chosen.inserting() ?? { from: this.from() };
    this.trouble.set(wrong ?? this.commands.insert(k.kind, k.label, this.sizes() ?? [], at, this.typed()) ?? '');
  }
}
