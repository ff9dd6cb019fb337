import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { NgTemplateOutlet } from '@angular/common';
import { couplingKind } from '@unirota/core/couplings';
import { FRAME, Field, Id, JOINT_FIELDS, LOAD_KINDS, MEMBER_FIELDS, SOURCE_KINDS, WANTED_KINDS } from '@unirota/core/design';
import { Derived, elementKind } from '@unirota/core/elements';
import { jointKind } from '@unirota/core/joints';
import { show } from '@unirota/core/units';
import { Committed, QuantityField } from '../shared/quantity-field';
import { Kind, LISTS, Selection, WorkbenchStore } from '../workbench/workbench.store';

const KIND_NAMES: Record<Kind, string> = {
  member: 'Member',
  joint: 'Joint',
  element: 'Element',
  coupling: 'Coupling',
  source: 'Source',
  load: 'Load',
  wanted: 'Wanted output',
};

/** The data sheet of what is selected: given values left, derived values right of them below, findings that concern it. */
@Component({
  selector: 'uni-data-sheet',
  imports: [QuantityField, NgTemplateOutlet],
  templateUrl: './data-sheet.html',
  styleUrl: './data-sheet.scss',
  host: { tabindex: '0' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DataSheet {
  protected readonly store = inject(WorkbenchStore);
  protected readonly show = show;
  protected readonly FRAME = FRAME;
  protected readonly formulas = signal<ReadonlySet<string>>(new Set());
  protected readonly refusals = signal<ReadonlyMap<string, string>>(new Map());

  protected readonly item = computed(() => {
    this.store.design();
    return this.store.item(this.store.selection());
  });
  protected readonly kindName = computed(() => {
    const s = this.store.selection();
    const i = this.item();
    if (!s || !i) return '';
    const own = this.kindOf(s.kind, String(i['type'] ?? ''));
    return own ? `${KIND_NAMES[s.kind]} · ${own.label}` : KIND_NAMES[s.kind];
  });

  private kindOf(kind: Kind, type: string): { label: string; fields?: readonly Field[] } | undefined {
    switch (kind) {
      case 'element':
        return elementKind(type);
      case 'joint':
        return jointKind(type);
      case 'coupling':
        return couplingKind(type);
      case 'source':
        return SOURCE_KINDS.find((k) => k.type === type);
      case 'load':
        return LOAD_KINDS.find((k) => k.type === type);
      case 'wanted':
        return WANTED_KINDS.find((k) => k.type === type);
      default:
        return undefined;
    }
  }

  /** Fields of the selected item, with units as they are for it (a joint that slides is in mm). */
  protected readonly fields = computed<Field[]>(() => {
    const s = this.store.selection();
    const i = this.item();
    if (!s || !i) return [];
    const own = this.kindOf(s.kind, String(i['type'] ?? ''))?.fields ?? [];
    const place: Field[] = [{ key: 'at', label: s.kind === 'member' ? 'Place in the world' : 'Place on the member', kind: 'vector', unit: 'mm' }];
    if (s.kind === 'member') return [...MEMBER_FIELDS, ...place];
    if (s.kind === 'joint') {
      const slides = jointKind(String(i['type']))?.freedoms[0]?.motion === 'slide';
      return [...own, ...JOINT_FIELDS.map((f) => ({ ...f, unit: slides ? 'mm' : 'deg' }))];
    }
    const all = s.kind === 'element' ? [...own, ...place] : own;
    return all.filter((f) => !f.when || f.when(i)).map((f) => (f.key === 'speed' && this.drivesSlide(i) ? { ...f, unit: 'mm/s' } : f));
  });

  protected readonly hasRare = computed(() => this.fields().some((f) => f.rare));

  private drivesSlide(i: Record<string, unknown>): boolean {
    const j = this.store.design().joints.find((x) => x.id === String(i['joint'] ?? '').split(':')[0]);
    return j !== undefined && jointKind(j.type)?.freedoms[0]?.motion === 'slide';
  }

  protected readonly derived = computed<Derived[]>(() => {
    const s = this.store.selection();
    const i = this.item();
    if (!s || !i) return [];
    const w = this.store.worked();
    const id = i['id'] as Id;
    if (s.kind === 'element') return elementKind(String(i['type']))?.derived?.(i as never) ?? [];
    if (s.kind === 'coupling') {
      const c = w.compiled.couplings.find((x) => x.coupling.id === id);
      const f = this.store.ledger().couplings.find((x) => x.coupling === id);
      const out = [...(c?.model.derived ?? [])];
      if (f) {
        if (f.tangential) {
          out.push(
            { key: 'ft', label: 'Tangential force', symbol: 'Ft', value: f.tangential, unit: 'N' },
            { key: 'fr', label: 'Radial force', symbol: 'Fr', value: f.radial, unit: 'N', formula: 'Fr = Ft·tan αt' },
          );
        }
        if (f.axial) out.push({ key: 'fa', label: 'Axial force', symbol: 'Fa', value: f.axial, unit: 'N', formula: 'Fa = Ft·tan β' });
        const at = w.compiled.couplings.findIndex((x) => x.coupling.id === id);
        w.forces.state.couplings[at]?.strands.forEach((v, k) =>
          out.push({ key: `strand${k}`, label: `Strand ${k + 1}`, symbol: `F${k + 1}`, value: v, unit: 'N' }),
        );
        out.push({ key: 'loss', label: 'Power lost', symbol: 'Pv', value: f.loss, unit: 'W' });
      }
      return out;
    }
    if (s.kind === 'joint' || s.kind === 'member') {
      const joint = s.kind === 'joint' ? id : this.store.design().joints.find((j) => j.child === id)?.id;
      const out: Derived[] = [];
      const first = joint === undefined ? undefined : w.compiled.structure.firstOf.get(joint);
      if (first !== undefined && w.compiled.structure.coordinates[first]?.joint.id === joint) {
        this.store.pose();
        const c = w.compiled.structure.coordinates[first];
        const v = w.mechanism.q[first] / w.mechanism.scale[first];
        out.push(
          c.motion === 'slide' ? { key: 'q', label: 'Position', value: v, unit: 'mm' } : { key: 'q', label: 'Position', value: v * 360, unit: 'deg' },
        );
        if (c.motion !== 'slide') out.push({ key: 'turns', label: 'Turns', value: v, unit: 'rev' });
        for (const r of w.ratios) {
          if (r.to === joint) {
            out.push(
              { key: `r-${r.from}`, label: 'Ratio to the source', value: r.exact.replace('-', '−'), unit: r.unit.replaceAll('turn', 'rev') },
              {
                key: `i-${r.from}`,
                label: 'The other way round',
                value: r.inverse.replace('-', '−'),
                unit: r.unit.replaceAll('turn', 'rev').split('/').reverse().join('/'),
              },
            );
          }
        }
      }
      if (s.kind === 'member') {
        const l = this.store.ledger().lines.find((x) => x.member === id);
        const mass = w.masses.get(id);
        if (l) {
          out.push(
            { key: 'n', label: 'Speed', value: l.speed, unit: l.motion === 'slide' ? 'mm/s' : 'rev/min' },
            {
              key: 't',
              label: l.motion === 'slide' ? 'Force through it' : 'Torque through it',
              value: l.load,
              unit: l.motion === 'slide' ? 'N' : 'N·m',
            },
            { key: 'p', label: 'Power through it', value: l.power, unit: 'W' },
          );
        }
        if (mass) out.push({ key: 'm', label: 'Mass', symbol: 'm', value: mass.mass, unit: 'kg', formula: 'Σ volume · density of its elements' });
      }
      return out;
    }
    if (s.kind === 'source') {
      const r = this.store.ledger().sources.find((x) => x.source === id);
      const slide = this.drivesSlide(i);
      return r
        ? [
            { key: 'l', label: slide ? 'Force needed' : 'Torque needed', value: r.load, unit: slide ? 'N' : 'N·m' },
            { key: 'p', label: 'Power', value: r.power, unit: 'W' },
          ]
        : [];
    }
    if (s.kind === 'wanted') {
      const r = this.store.ledger().wanted.find((x) => x.wanted === id);
      if (!r) return [];
      return r.value === undefined
        ? []
        : [
            { key: 'v', label: 'Reached', value: r.value, unit: r.unit },
            { key: 'o', label: 'Off by', value: r.off ?? 0, unit: r.unit },
          ];
    }
    return [];
  });

  /** What belongs to the selected thing: elements and joints of a member, the member of an element, the pair of a coupling. */
  protected readonly related = computed<{ label: string; sel: Selection }[]>(() => {
    const s = this.store.selection();
    const i = this.item();
    const d = this.store.design();
    if (!s || !i) return [];
    const id = i['id'];
    const nameOf = (k: Kind, x: Id): string => (d[LISTS[k]] as { id: Id; name?: string }[]).find((y) => y.id === x)?.name ?? x;
    const out: { label: string; sel: Selection }[] = [];
    const add = (k: Kind, x: unknown): void => {
      const found = typeof x === 'string' ? (d[LISTS[k]] as { id: Id }[]).find((y) => y.id === x.split(':')[0]) : undefined;
      if (found) out.push({ label: nameOf(k, found.id), sel: { kind: k, id: found.id } });
    };
    if (s.kind === 'member') {
      for (const e of d.elements) if (e.member === id) add('element', e.id);
      for (const j of d.joints) if (j.child === id || j.parent === id) add('joint', j.id);
      for (const l of d.loads) if (l['member'] === id) add('load', l.id);
    } else if (s.kind === 'element') {
      add('member', i['member']);
      for (const c of d.couplings) {
        if (c['a'] === id || c['b'] === id || ((c['wheels'] as string[] | undefined) ?? []).includes(id as string)) add('coupling', c.id);
      }
    } else if (s.kind === 'coupling') {
      for (const k of ['a', 'b']) {
        add('element', i[k]);
        add('joint', i[k]);
      }
      for (const w of (i['wheels'] as string[] | undefined) ?? []) add('element', w);
    } else if (s.kind === 'joint') {
      add('member', i['parent']);
      add('member', i['child']);
    } else {
      add('joint', i['joint']);
      add('member', i['member']);
      add('source', i['source']);
      add('element', i['element']);
    }
    return out;
  });

  protected readonly findings = computed(() => {
    const id = this.item()?.['id'];
    return this.store.findings().filter((f) => f.ids.includes(id as Id));
  });

  protected typed(f: Field): string | undefined {
    return this.store.design().typed?.[`${this.item()?.['id']}.${f.key}`];
  }
  protected scalar(f: Field): number | string | undefined {
    return this.item()?.[f.key] as number | string | undefined;
  }
  protected vectorPart(f: Field, k: number): number {
    return ((this.item()?.[f.key] as number[] | undefined) ?? [0, 0, 0])[k];
  }
  protected partField(f: Field, k: number): Field {
    return { ...f, kind: 'number', label: `${f.label} ${'xyz'[k]}`, required: false };
  }
  protected choices(f: Field): { value: string; label: string }[] {
    if (f.kind === 'choice') return f.choices!.map((c) => ({ value: c, label: c }));
    const d = this.store.design();
    const from = f.to === 'coordinate' ? 'joint' : (f.to as Kind);
    return (d[LISTS[from]] as { id: Id; name?: string }[]).map((x) => ({ value: x.id, label: x.name ?? x.id }));
  }

  private set(field: Field, value: unknown, typed?: string): void {
    const s = this.store.selection();
    const i = this.item();
    if (!s || !i) return;
    const key = `${i['id']}.${field.key}`;
    // Enter and leaving the field both commit: the second time nothing is left to do.
    if (i[field.key] === value && this.typed(field) === typed && !this.refusals().has(key)) return;
    const list = LISTS[s.kind];
    const trouble = this.store.edit(`${field.label} of ${String(i['name'] ?? i['id'])}`, (d) => {
      const texts = { ...d.typed };
      if (typed) texts[key] = typed;
      else delete texts[key];
      const items = (d[list] as unknown as Record<string, unknown>[]).map((x) => {
        if (x['id'] !== i['id']) return x;
        const next = { ...x };
        if (value === undefined) delete next[field.key];
        else next[field.key] = value;
        return next;
      });
      const out = { ...d, [list]: items, typed: texts };
      if (!Object.keys(texts).length) delete (out as { typed?: unknown }).typed;
      return out;
    });
    this.refusals.update((m) => {
      const next = new Map(m);
      if (trouble) next.set(key, trouble);
      else next.delete(key);
      return next;
    });
  }

  protected refusal(f: Field): string | undefined {
    return this.refusals().get(`${this.item()?.['id']}.${f.key}`);
  }
  protected commit(f: Field, c: Committed): void {
    this.set(f, c.value, c.typed);
  }
  protected commitPart(f: Field, k: number, c: Committed): void {
    const v = [...((this.item()?.[f.key] as number[] | undefined) ?? [0, 0, 0])];
    v[k] = Number(c.value ?? 0);
    this.set(f, v);
  }
  protected pickChoice(f: Field, e: Event): void {
    this.set(f, (e.target as HTMLSelectElement).value || undefined);
  }
  protected isPicked(f: Field, id: string): boolean {
    return ((this.item()?.[f.key] as string[] | undefined) ?? []).includes(id);
  }
  /** Keeps the order of those that stay; new ones come last. */
  protected pickMany(f: Field, e: Event): void {
    const now = [...(e.target as HTMLSelectElement).selectedOptions].map((o) => o.value);
    const before = (this.item()?.[f.key] as string[] | undefined) ?? [];
    this.set(f, [...before.filter((x) => now.includes(x)), ...now.filter((x) => !before.includes(x))]);
  }
  protected flag(f: Field, e: Event): void {
    this.set(f, (e.target as HTMLInputElement).checked);
  }
  protected rename(e: Event): void {
    const name = (e.target as HTMLInputElement).value.trim();
    this.set({ key: 'name', label: 'Name', kind: 'text' }, name || undefined);
  }
  protected toggleFormula(key: string): void {
    this.formulas.update((s) => {
      const next = new Set(s);
      if (!next.delete(key)) next.add(key);
      return next;
    });
  }
  protected valueText(d: Derived): string {
    return typeof d.value === 'string' ? d.value : show(d.value, 6);
  }
}
