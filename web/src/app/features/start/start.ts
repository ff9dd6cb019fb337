import { ChangeDetectionStrategy, Component, DestroyRef, Injector, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { Router, RouterLink } from '@angular/router';
import { DatePipe } from '@angular/common';
import { MatAutocomplete, MatAutocompleteTrigger } from '@angular/material/autocomplete';
import { MatChipListbox, MatChipOption } from '@angular/material/chips';
import { MatButton, MatIconButton } from '@angular/material/button';
import { MatFormField, MatLabel, MatPrefix } from '@angular/material/form-field';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatInput } from '@angular/material/input';
import { MatOption } from '@angular/material/core';
import { MatSelect } from '@angular/material/select';
import { MatSnackBar } from '@angular/material/snack-bar';
import { MatTooltip } from '@angular/material/tooltip';
import {
  EMPTY,
  Observable,
  Subject,
  map,
  of,
  catchError,
  concatMap,
  debounceTime,
  distinctUntilChanged,
  filter,
  firstValueFrom,
  from,
  switchMap,
  tap,
} from 'rxjs';
import type { DesignLine, FolderLine, ListOrder } from '@unirota/contract';
import { type Design, emptyDesign, unusedName } from '@unirota/core/document';
import type { Sketch, Template } from '@unirota/core';
import { MECHANISM_FILES, PART_FORMATS, partFormatOf } from '@unirota/solids/formats';
import { ApiService, ServerTrouble, newId } from '../../state/api.service';
import { IncomingFiles } from '../../state/incoming-files';
import type { ShapeContents } from '../../engine/shape-contents';
import { ThemeService } from '../../state/theme.service';
import { signOnTrouble } from '../../state/sign-on-trouble';
import { SessionService } from '../../state/session.service';
import { Icon } from '../../ui/icon';
import { SketchPicture } from '../../ui/sketch-picture';
import { Named } from '../../ui/named';

const LONGEST_NAME = 120;

/** The list of designs: search, sort, create, open, rename, duplicate, delete with undo. */
@Component({
  selector: 'uni-start',
  imports: [
    Named,
    RouterLink,
    DatePipe,
    Icon,
    SketchPicture,
    MatAutocomplete,
    MatAutocompleteTrigger,
    MatButton,
    MatChipListbox,
    MatChipOption,
    MatIconButton,
    MatFormField,
    MatInput,
    MatLabel,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatOption,
    MatPrefix,
    MatSelect,
    MatTooltip,
  ],
  templateUrl: './start.html',
  styleUrl: './start.scss',
  host: { '(dragover)': 'dragOver($event)', '(drop)': 'dropFiles($event)' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Start {
  protected readonly accept = ['application/json', ...['json', 'zip', ...MECHANISM_FILES, ...PART_FORMATS].map((f) => `.${f}`)].join(',');
  private readonly api = inject(ApiService);
  private readonly incoming = inject(IncomingFiles);
  private readonly router = inject(Router);
  private readonly snack = inject(MatSnackBar);
  private readonly injector = inject(Injector);
  protected readonly theme = inject(ThemeService);
  private readonly sessions = inject(SessionService);
  private readonly session = this.sessions.session;
  protected readonly person = computed(() => (this.session()?.accounts ? this.session()?.person : undefined));
  protected readonly orders: readonly [ListOrder, string][] = [
    ['saved', $localize`last saved`],
    ['created', 'newest'],
    ['name', 'name'],
  ];
  protected readonly order = signal<ListOrder>('saved');
  protected readonly search = signal('');
  protected readonly designs = signal<DesignLine[] | undefined>(undefined);
  protected readonly next = signal<string | undefined>(undefined);
  /** Pictures that did not come with the list. */
  private readonly sketches = signal<Record<string, Sketch>>({});
  /** The person's folders, and the one that is open; none: all designs. */
  protected readonly folders = signal<readonly FolderLine[]>([]);
  protected readonly folder = signal<string | undefined>(undefined);
  protected readonly filing = signal<string | undefined>(undefined);
  protected readonly filingProblem = signal('');
  /** Why an identity at an issuer was not added to the account. */
  protected readonly signOnTrouble = signOnTrouble();
  protected readonly trouble = signal('');
  protected readonly renaming = signal<string | undefined>(undefined);
  protected readonly renameProblem = signal('');
  protected readonly busy = signal(false);
  private readonly typed = new Subject<string>();
  private readonly wanted = new Subject<string | undefined>();

  constructor() {
    const destroyed = inject(DestroyRef);
    this.typed.pipe(debounceTime(200), distinctUntilChanged(), takeUntilDestroyed(destroyed)).subscribe((text) => {
      this.search.set(text);
      this.list();
    });
    // A later question makes an earlier answer worthless; pictures that did not come with the list are asked for one after the other.
    this.wanted
      .pipe(
        switchMap((after) =>
          this.api.list({ order: this.order(), search: this.search(), folder: this.folder(), ...(after ? { after } : {}) }).pipe(
            tap((page) => {
              this.trouble.set('');
              this.designs.update((had) => (after ? [...(had ?? []), ...page.designs] : page.designs));
              this.next.set(page.next);
            }),
            catchError((e: Error) => {
              this.trouble.set(e.message);
              if (!this.designs()) void this.listCopies();
              return EMPTY;
            }),
          ),
        ),
        switchMap(({ designs }) =>
          from(designs).pipe(
            filter((d) => !d.sketch && !this.sketches()[d.id]),
            concatMap((d) =>
              this.api.sketch(d.id).pipe(
                tap((sketch) => this.sketches.update((all) => ({ ...all, [d.id]: sketch }))),
                catchError(() => EMPTY),
              ),
            ),
          ),
        ),
        takeUntilDestroyed(destroyed),
      )
      .subscribe();
    this.load();
  }

  /** Designs that are kept on this machine: what can be opened while the server is away. */
  protected readonly copies = signal<readonly { design: string; name: string; at: number }[]>([]);
  private async listCopies(): Promise<void> {
    const { Drafts } = await import('../../state/drafts');
    this.copies.set(await new Drafts(this.sessions.owner()).copies().catch(() => []));
  }

  /** The list anew, and the folders: after anything that may have changed both. */
  protected load(): void {
    this.list();
    this.api.folders().subscribe({
      next: (list) => {
        this.folders.set(list);
        // A folder is there for as long as something is in it.
        if (this.folder() !== undefined && !list.some((f) => f.name === this.folder())) this.openFolder(undefined);
      },
      // What is in the way is said where the list would be.
      error: () => undefined,
    });
  }
  private list(): void {
    this.wanted.next(undefined);
  }
  protected openFolder(name: string | undefined): void {
    if (name === this.folder()) return;
    this.folder.set(name);
    this.list();
  }
  protected startFiling(d: DesignLine): void {
    this.filingProblem.set('');
    this.renaming.set(undefined);
    this.filing.set(d.id);
    setTimeout(() => document.querySelector<HTMLInputElement>('form.rename input')?.select());
  }
  /** Puts a design into a folder; without a name, out of the one that it is in. */
  protected putInto(d: DesignLine, e: Event): void {
    e.preventDefault();
    const name = new FormData(e.target as HTMLFormElement).get('folder') as string;
    this.api.file(d.id, name.trim() || null).subscribe({
      next: () => {
        this.filing.set(undefined);
        this.load();
      },
      error: (x: ServerTrouble) => this.filingProblem.set(x.of('folder') ?? x.message),
    });
  }
  /** What is begun while a folder is open lies in it. */
  private filed(id: string): Observable<unknown> {
    const folder = this.folder();
    return folder === undefined ? of(undefined) : this.api.file(id, folder).pipe(catchError(() => of(undefined)));
  }
  protected more(): void {
    this.wanted.next(this.next());
  }
  protected look(e: Event): void {
    this.typed.next((e.target as HTMLInputElement).value.trim());
  }
  protected sort(order: ListOrder): void {
    this.order.set(order);
    this.list();
  }
  protected sketchOf(d: DesignLine): Sketch | undefined {
    return d.sketch ?? this.sketches()[d.id];
  }

  /** Names of designs as far as the list shows them. */
  private names(): Set<string> {
    return new Set(this.designs()?.map((d) => d.name));
  }
  private store(design: Design): void {
    this.busy.set(true);
    this.api
      .create(design)
      .pipe(switchMap((s) => this.filed(s.id).pipe(map(() => s))))
      .subscribe({ next: (s) => void this.router.navigate(['/design', s.id]), error: (e: Error) => this.failed(e) });
  }
  protected create(): void {
    this.store(emptyDesign(unusedName($localize`New drive train`, this.names())));
  }

  /** Trains to begin from, as soon as somebody asks for them: what builds them is not loaded before. */
  protected readonly templates = signal<readonly Template[]>([]);
  protected async showTemplates(): Promise<void> {
    if (!this.templates().length) this.templates.set((await import('@unirota/core')).TEMPLATES);
  }
  protected async begin(t: Template): Promise<void> {
    const { fromTemplate } = await import('@unirota/core');
    this.store(fromTemplate(t, unusedName(t.name, this.names())));
  }

  /** Design documents out of files: each becomes a design of its own; what is wrong with one is said, the others come in. */
  protected take(field: HTMLInputElement): void {
    const files = [...(field.files ?? [])];
    field.value = '';
    void this.takeFiles(files);
  }
  private async takeFiles(files: readonly File[]): Promise<void> {
    const parts = files.filter((f) => partFormatOf(f.name));
    const designs = files.filter((f) => !partFormatOf(f.name));
    this.busy.set(true);
    const { ids, troubles } = await this.takeDesigns(designs).finally(() => this.busy.set(false));
    if (parts.length && troubles.length) troubles.push($localize`The parts were not opened: choose them again`);
    this.fileTrouble.set(troubles.join('. '));
    if (parts.length && !troubles.length) return this.beginWithParts(parts);
    if (ids.length === 1 && !troubles.length) return void this.router.navigate(['/design', ids[0]]);
    if (designs.length) this.load();
  }
  /** The designs that files were made into, and what is wrong with the others. */
  private async takeDesigns(files: readonly File[]): Promise<{ ids: string[]; troubles: string[] }> {
    const [ids, troubles]: [string[], string[]] = [[], []];
    if (!files.length) return { ids, troubles };
    const { fromFile } = await import('./bring-in');
    const names = this.names();
    for (const file of files) {
      try {
        const read = await fromFile(file);
        if (!read.design) {
          troubles.push(read.problem);
          continue;
        }
        if (read.untaken.length && !(await this.agreed(read.design, read.untaken))) continue;
        const name = unusedName(read.design.name.slice(0, LONGEST_NAME - 10), names);
        names.add(name);
        const { id } = await firstValueFrom(this.api.create({ ...read.design, name }));
        await firstValueFrom(this.filed(id));
        // The workbench sends them when the design is open.
        for (const [hash, bytes] of read.contents) await this.contents().then((c) => c.put(hash, bytes, id));
        ids.push(id);
      } catch (e) {
        troubles.push(`${file.name}: ${(e as Error).message}`);
      }
    }
    return { ids, troubles };
  }
  protected readonly fileTrouble = signal('');
  /** What cannot be taken over is listed first; gives whether the design is to be made all the same. */
  private async agreed(design: Design, untaken: readonly string[]): Promise<boolean> {
    const [{ MatDialog }, { UntakenDialog }] = await Promise.all([import('@angular/material/dialog'), import('./untaken-dialog')]);
    const data = { name: design.name, members: design.members.length, joints: design.joints.length, untaken };
    return (
      (await firstValueFrom(this.injector.get(MatDialog).open(UntakenDialog, { data, width: '560px', maxWidth: '94vw' }).afterClosed())) === true
    );
  }
  private async contents(): Promise<ShapeContents> {
    return new (await import('../../engine/shape-contents')).ShapeContents(this.sessions.owner());
  }
  /** Parts of other programs: a new design, into which they are taken when it is open. */
  private beginWithParts(files: readonly File[]): void {
    this.incoming.files.set(files);
    this.store(emptyDesign(unusedName(files[0].name.replace(/\.[^.]*$/, '').slice(0, LONGEST_NAME - 10), this.names())));
  }
  protected dragOver(e: DragEvent): void {
    if (e.dataTransfer?.types.includes('Files')) e.preventDefault();
  }
  protected dropFiles(e: DragEvent): void {
    e.preventDefault();
    void this.takeFiles([...(e.dataTransfer?.files ?? [])]);
  }

  protected copy(d: DesignLine): void {
    this.api.copy(d.id).subscribe({ next: () => this.load(), error: (e: Error) => this.failed(e) });
  }

  protected remove(d: DesignLine): void {
    this.api.remove(d.id).subscribe({
      next: () => {
        this.load();
        this.snack
          .open(`“${d.name}” is deleted.`, $localize`Undo`, { duration: 15_000 })
          .onAction()
          .pipe(switchMap(() => this.api.restore(d.id)))
          .subscribe({ next: () => this.load(), error: (e: Error) => this.failed(e) });
      },
      error: (e: Error) => this.failed(e),
    });
  }

  protected async showDeleted(): Promise<void> {
    const [{ MatDialog }, { DeletedDialog }] = await Promise.all([import('@angular/material/dialog'), import('./deleted-dialog')]);
    this.injector
      .get(MatDialog)
      .open(DeletedDialog)
      .afterClosed()
      .subscribe(() => this.load());
  }

  protected startRename(d: DesignLine): void {
    this.renameProblem.set('');
    this.doubled = undefined;
    this.renaming.set(d.id);
    setTimeout(() => document.querySelector<HTMLInputElement>('.rename input')?.select());
  }
  /** A name that another design has, said once. */
  private doubled?: string;
  protected rename(d: DesignLine, e: Event): void {
    e.preventDefault();
    const name = (new FormData(e.target as HTMLFormElement).get('name') as string).trim();
    if (!name) return this.renameProblem.set($localize`Name is missing: give it one`);
    if (name !== d.name && this.names().has(name) && this.doubled !== name) {
      this.doubled = name;
      return this.renameProblem.set($localize`Another design has this name: take another, or press Rename again to have both`);
    }
    if (name.length > LONGEST_NAME) return this.renameProblem.set($localize`Name must have at most ${LONGEST_NAME} characters`);
    this.api
      .read(d.id)
      .pipe(switchMap((s) => this.api.save(d.id, { base: s.revision, save: newId(), design: { ...s.design, name } })))
      .subscribe({
        next: () => {
          this.renaming.set(undefined);
          this.load();
        },
        error: (x: Error) => this.renameProblem.set(x.message),
      });
  }

  protected async account(): Promise<void> {
    const [{ MatDialog }, { PeopleDialog }] = await Promise.all([import('@angular/material/dialog'), import('./people-dialog')]);
    this.injector.get(MatDialog).open(PeopleDialog, { width: '720px', maxWidth: '94vw' });
  }

  private failed(e: Error): void {
    this.busy.set(false);
    this.trouble.set(e.message);
  }
}
