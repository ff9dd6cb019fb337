import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { DatePipe } from '@angular/common';
import { CdkTextareaAutosize } from '@angular/cdk/text-field';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { LONGEST_REMARK, type RemarkLine, type RemarkSubject } from '@unirota/contract';
import { fieldsOfItem } from '@unirota/core/document';
import { Choice, type Option } from '../../ui/choice';
import { Icon } from '../../ui/icon';
import { Named } from '../../ui/named';
import { LISTS, itemOf } from '../../state/items';
import { DesignService } from '../../state/design.service';
import { FindingsService } from '../../state/findings.service';
import { NEW, RemarksService, type Thread, itemsOf } from '../../state/remarks.service';
import { PASSING, RunService } from '../../state/run.service';
import { RoomService } from '../../state/room.service';
import { SelectionService } from '../../state/selection.service';
import { STEP_LABELS, ViewService } from '../../state/view.service';
import { subjectText } from './subject-text';

type Shown = 'open' | 'all' | 'selected';

/** Remarks on the design: threads with what they are about, answers, and a new one. */
@Component({
  selector: 'uni-remarks',
  imports: [CdkTextareaAutosize, Choice, DatePipe, Icon, MatButton, MatFormField, MatIconButton, MatInput, MatLabel, Named],
  templateUrl: './remarks-panel.html',
  styleUrl: './remarks-panel.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RemarksPanel {
  protected readonly doc = inject(DesignService);
  protected readonly remarks = inject(RemarksService);
  private readonly chosen = inject(SelectionService);
  private readonly found = inject(FindingsService);
  private readonly runs = inject(RunService);
  private readonly view = inject(ViewService);
  protected readonly room = inject(RoomService);
  protected readonly NEW = NEW;
  protected readonly longest = LONGEST_REMARK;

  protected readonly shows = signal<Shown>('open');
  protected readonly filters: readonly Option[] = [
    { value: 'open', label: $localize`Open` },
    { value: 'all', label: $localize`All` },
    { value: 'selected', label: $localize`On the selected` },
  ];
  protected readonly threads = computed<readonly Thread[]>(() => {
    const shows = this.shows();
    if (shows === 'all') return this.remarks.threads();
    if (shows === 'open') return this.remarks.open();
    const ids = new Set(this.chosen.selected().map((s) => s.id));
    return this.remarks.threads().filter((t) => itemsOf(t.head.subject).some((id) => ids.has(id)));
  });
  protected readonly none = computed(() => {
    if (this.remarks.openCount() === undefined) return this.remarks.trouble() ? '' : $localize`The remarks are being fetched …`;
    if (this.shows() === 'open') return $localize`No open remarks. Write one below: on the design, or on what is selected.`;
    return this.shows() === 'all' ? $localize`No remarks yet.` : $localize`No remarks on what is selected.`;
  });

  protected readonly subject = (s: RemarkSubject): string => subjectText(s, this.doc.design());
  protected readonly who = (person: string, mine?: boolean): string => (mine ? $localize`you` : person || $localize`somebody here`);
  protected readonly stepOf = (step: string): string => STEP_LABELS.find((s) => s.step === step)?.label ?? '';
  /** The finding is no longer there. */
  protected gone(s: RemarkSubject): boolean {
    return (
      s.kind === 'finding' &&
      this.found.current() &&
      !this.found.findings().some((f) => f.code === s.code && f.ids.length === s.items.length && f.ids.every((id) => s.items.includes(id)))
    );
  }

  /** Goes to what a remark is about. */
  protected go(s: RemarkSubject): void {
    const first = itemsOf(s)
      .map((id) => itemOf(this.doc.design(), id))
      .find((x) => x !== undefined);
    if (first) this.chosen.select(first.kind, first.item.id);
    else if (s.kind !== 'design' && s.kind !== 'instant') this.doc.said.set($localize`What this remark is about was deleted`);
    if (s.kind === 'place') this.view.step.set('layout');
    if (s.kind === 'finding') this.view.step.set('release');
    if (s.kind === 'instant') {
      this.view.step.set('motion');
      if (s.run !== undefined && this.runs.kept().some((r) => r.id === s.run)) void this.runs.openAt(s.run, s.time);
      else if (s.run === undefined && this.runs.open() === PASSING && this.runs.shown()) this.runs.go(s.time);
      else this.doc.said.set($localize`The run of this remark is not here any more`);
    }
  }

  /** What a new remark may be about. */
  protected readonly subjects = computed<readonly Option[]>(() => {
    const about = this.remarks.about();
    const selected = this.chosen.selection();
    const d = this.doc.design();
    const item = selected && itemOf(d, selected.id)?.item;
    const [run, time] = [this.runs.shown(), this.runs.at()];
    return [
      { value: 'design', label: $localize`The whole design` },
      ...(item ? [{ value: `item ${item.id}`, label: $localize`Selected: ${item.name ?? item.id}` }] : []),
      ...(run && time !== undefined ? [{ value: 'instant', label: $localize`The instant that is shown` }] : []),
      { value: 'place', label: $localize`A place in the layout …` },
      // What it is about now stays to be seen, whatever is selected.
      ...(about.kind === 'design' || (about.kind === 'item' && about.item === item?.id) ? [] : [{ value: 'now', label: this.subject(about) }]),
    ];
  });
  protected readonly aboutValue = computed(() => {
    const about = this.remarks.about();
    if (about.kind === 'design') return 'design';
    return about.kind === 'item' && about.item === this.chosen.selection()?.id ? `item ${about.item}` : 'now';
  });
  protected readonly fields = computed<readonly Option[]>(() => {
    const about = this.remarks.about();
    const found = about.kind === 'item' ? itemOf(this.doc.design(), about.item) : undefined;
    if (!found) return [];
    const fields = fieldsOfItem(LISTS[found.kind], found.item).filter((f) => !f.when || f.when(found.item as never));
    return [{ value: '', label: $localize`all of it` }, ...fields.map((f) => ({ value: f.key, label: f.label }))];
  });
  protected readonly field = computed(() => {
    const about = this.remarks.about();
    return about.kind === 'item' ? (about.field ?? '') : '';
  });
  protected take(value: string): void {
    if (value === 'design') this.remarks.about.set({ kind: 'design' });
    else if (value.startsWith('item ')) this.remarks.about.set({ kind: 'item', item: value.slice(5) });
    else if (value === 'instant') {
      const [run, time] = [this.runs.open(), this.runs.at()];
      if (time !== undefined) this.remarks.about.set({ kind: 'instant', ...(run === PASSING ? {} : { run }), time });
    } else if (value === 'place') {
      this.view.withTools((t) => t.pickPlace((member, at) => this.remarks.about.set({ kind: 'place', member, at })));
    }
  }
  protected takeField(field: string): void {
    this.remarks.about.update((a) => (a.kind === 'item' ? { kind: 'item', item: a.item, ...(field ? { field } : {}) } : a));
  }

  protected readonly draft = (thread: string): string => this.remarks.drafts().get(thread) ?? '';
  protected readonly sending = signal('');
  protected async send(thread: string): Promise<void> {
    if (this.sending() || !this.draft(thread).trim()) return;
    this.sending.set(thread);
    const done = await this.remarks.send(thread);
    this.sending.set('');
    if (done && this.answering() === thread) this.answering.set('');
    // What was just said is to be seen.
    if (done && thread === NEW && this.shows() === 'selected') this.shows.set('open');
  }
  /** Ctrl and Enter send. */
  protected key(e: KeyboardEvent, thread: string): void {
    if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey)) return;
    e.preventDefault();
    void this.send(thread);
  }
  protected readonly answering = signal('');
  protected readonly editing = signal<{ id: string; text: string } | undefined>(undefined);
  protected edit(r: RemarkLine): void {
    this.editing.set({ id: r.id, text: r.text });
  }
  protected async rewrite(): Promise<void> {
    const e = this.editing();
    if (e?.text.trim() && (await this.remarks.rewrite(e.id, e.text.trim()))) this.editing.set(undefined);
  }
}
