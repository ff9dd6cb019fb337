import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import { DatePipe } from '@angular/common';
import { DesignLine } from '@unirota/contract';
import { emptyDesign } from '@unirota/core/design';
import { ApiService, newId } from '../services/api.service';
import { ThemeService } from '../services/theme.service';
import { Icon } from '../shared/icon';

/** The list of designs: create, open, rename, duplicate, delete with undo. */
@Component({
  selector: 'uni-start',
  imports: [RouterLink, Icon, DatePipe],
  templateUrl: './start.html',
  styleUrl: './start.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Start {
  private readonly api = inject(ApiService);
  private readonly router = inject(Router);
  protected readonly theme = inject(ThemeService);
  protected readonly designs = signal<DesignLine[] | undefined>(undefined);
  protected readonly trouble = signal('');
  protected readonly renaming = signal<string | undefined>(undefined);
  protected readonly renameProblem = signal('');
  protected readonly deleted = signal<{ id: string; name: string } | undefined>(undefined);
  protected readonly busy = signal(false);

  constructor() {
    this.load();
  }

  protected load(): void {
    this.api.list().subscribe({
      next: (d) => {
        this.trouble.set('');
        this.designs.set(d);
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }

  protected viewBox(d: DesignLine): string {
    const [x, y, w, h] = d.sketch.box;
    const pad = 0.06 * Math.max(w, h);
    return `${x - pad} ${y - pad} ${w + 2 * pad} ${h + 2 * pad}`;
  }
  protected stroke(d: DesignLine): number {
    return Math.max(d.sketch.box[2] / 300, d.sketch.box[3] / 190) * 1.1;
  }

  protected create(): void {
    const names = new Set(this.designs()?.map((d) => d.name));
    let name = 'New drive train';
    for (let n = 2; names.has(name); n++) name = `New drive train ${n}`;
    this.busy.set(true);
    this.api.create(emptyDesign(name)).subscribe({ next: (s) => void this.router.navigate(['/design', s.id]), error: (e: Error) => this.failed(e) });
  }

  protected copy(d: DesignLine): void {
    this.api.copy(d.id).subscribe({ next: () => this.load(), error: (e: Error) => this.failed(e) });
  }

  protected remove(d: DesignLine): void {
    this.api.remove(d.id).subscribe({
      next: () => {
        this.deleted.set({ id: d.id, name: d.name });
        this.load();
      },
      error: (e: Error) => this.failed(e),
    });
  }
  protected bringBack(): void {
    const d = this.deleted();
    if (!d) return;
    this.api.restore(d.id).subscribe({
      next: () => {
        this.deleted.set(undefined);
        this.load();
      },
      error: (e: Error) => this.failed(e),
    });
  }

  protected startRename(d: DesignLine): void {
    this.renameProblem.set('');
    this.renaming.set(d.id);
    setTimeout(() => document.querySelector<HTMLInputElement>('.rename input')?.select());
  }
  protected rename(d: DesignLine, e: Event): void {
    e.preventDefault();
    const name = (new FormData(e.target as HTMLFormElement).get('name') as string).trim();
    if (!name) return this.renameProblem.set('Name is missing: give it one');
    if (name.length > 120) return this.renameProblem.set('Name must have at most 120 characters');
    this.api.read(d.id).subscribe({
      next: (s) =>
        this.api.save(d.id, { base: s.revision, save: newId(), design: { ...s.design, name } }).subscribe({
          next: () => {
            this.renaming.set(undefined);
            this.load();
          },
          error: (x: Error) => this.renameProblem.set(x.message),
        }),
      error: (x: Error) => this.renameProblem.set(x.message),
    });
  }

  private failed(e: Error): void {
    this.busy.set(false);
    this.trouble.set(e.message);
  }
}
