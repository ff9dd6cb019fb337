import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Clipboard } from '@angular/cdk/clipboard';
import { DatePipe } from '@angular/common';
import { MatButton } from '@angular/material/button';
import { MAT_DIALOG_DATA, MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatButtonToggle, MatButtonToggleGroup } from '@angular/material/button-toggle';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatSelect } from '@angular/material/select';
import { MatOption } from '@angular/material/core';
import { type Observable, forkJoin } from 'rxjs';
import type { AuditLine, LinkLine, PersonLine, SharesAnswer } from '@unirota/contract';
import { ApiService } from '../../state/api.service';
import { Named } from '../../ui/named';

type Given = 'look' | 'edit';
const LINK_DAYS = 14;

/** Who else may look at a design or edit it, by name or by link, and who has been at it. */
@Component({
  selector: 'uni-sharing-dialog',
  imports: [
    Named,
    DatePipe,
    MatButton,
    MatButtonToggle,
    MatButtonToggleGroup,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    MatFormField,
    MatInput,
    MatLabel,
    MatOption,
    MatSelect,
  ],
  template: `
    <h2 i18n matDialogTitle>Share “{{ data.name }}”</h2>
    <mat-dialog-content>
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      @if (shares(); as s) {
        <h3 i18n>People</h3>
        <div class="row">
          <span class="who">{{ s.owner.name }}</span> <span i18n class="soft">owner</span>
        </div>
        @for (x of s.shares; track x.person.id) {
          <div class="row">
            <span class="who">{{ x.person.name }}</span>
            <mat-button-toggle-group
              [value]="x.may"
              hideSingleSelectionIndicator
              i18n-uniName
              uniName="What {{ x.person.name }} may do"
              (change)="give(x.person.id, $event.value)"
            >
              <mat-button-toggle i18n value="look">may look</mat-button-toggle>
              <mat-button-toggle i18n value="edit">may edit</mat-button-toggle>
            </mat-button-toggle-group>
            <button i18n matButton type="button" (click)="take(x.person)">Remove access</button>
          </div>
        }
        <div class="row">
          <mat-form-field appearance="outline" subscriptSizing="dynamic">
            <mat-label i18n>Person</mat-label>
            <mat-select [value]="chosen()" (selectionChange)="chosen.set($event.value)">
              @for (p of others(); track p.id) {
                <mat-option [value]="p.id">{{ p.name }}</mat-option>
              }
            </mat-select>
          </mat-form-field>
          <button i18n matButton="outlined" type="button" [disabled]="!chosen()" (click)="give(chosen()!, 'look')">May look</button>
          <button i18n matButton="filled" type="button" [disabled]="!chosen()" (click)="give(chosen()!, 'edit')">May edit</button>
        </div>
        <h3 i18n>Links</h3>
        <p i18n class="soft">Whoever has an account here and the link may open the design, for {{ days }} days.</p>
        @for (l of s.links; track l.id) {
          <div class="row">
            <span i18n>{{ l.may === 'edit' ? 'may edit' : 'may look' }}, until {{ l.expires | date: 'd MMM y' }}</span>
            <button i18n matButton type="button" (click)="endLink(l)">End it</button>
          </div>
        }
        @if (fresh(); as link) {
          <div class="row">
            <mat-form-field appearance="outline" subscriptSizing="dynamic" class="link">
              <mat-label i18n>New link (shown this once)</mat-label>
              <input matInput readonly [value]="link" />
            </mat-form-field>
            <button matButton="filled" type="button" (click)="copy(link)">{{ copied() ? 'Copied' : 'Copy' }}</button>
          </div>
        }
        <div class="row">
          <button i18n matButton="outlined" type="button" (click)="makeLink('look')">Make a link to look</button>
          <button i18n matButton="outlined" type="button" (click)="makeLink('edit')">Make a link to edit</button>
        </div>
        <h3 i18n>Activity</h3>
        <ul i18n-aria-label class="audit" tabindex="0" aria-label="Activity">
          @for (a of audit(); track $index) {
            <li>
              <span class="soft">{{ a.last | date: 'd MMM y, HH:mm' }}</span> {{ a.person }} {{ a.action
              }}{{ a.times > 1 ? ' ' + a.times + ' times' : '' }}{{ a.detail ? ': ' + a.detail : '' }}
            </li>
          }
        </ul>
      }
    </mat-dialog-content>
    <mat-dialog-actions><button i18n matButton type="button" matDialogClose>Close</button></mat-dialog-actions>
  `,
  styles: `
    .who {
      width: 180px;
    }
    .row {
      display: flex;
      gap: 8px;
      align-items: center;
      margin: 6px 0;
    }
    .link {
      flex: 1;
    }
    h3 {
      margin: 12px 0 4px;
    }
    .audit {
      margin: 0;
      padding: 0;
      list-style: none;
      max-height: 140px;
      overflow: auto;
    }
    p {
      margin: 0 0 6px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SharingDialog {
  private readonly api = inject(ApiService);
  private readonly clipboard = inject(Clipboard);
  protected readonly data = inject<{ id: string; name: string }>(MAT_DIALOG_DATA);
  protected readonly days = LINK_DAYS;
  protected readonly shares = signal<SharesAnswer | undefined>(undefined);
  protected readonly people = signal<PersonLine[]>([]);
  protected readonly audit = signal<AuditLine[]>([]);
  protected readonly trouble = signal('');
  protected readonly chosen = signal<string | undefined>(undefined);
  protected readonly fresh = signal('');
  protected readonly copied = signal(false);
  protected readonly others = computed(() => {
    const s = this.shares();
    const had = new Set([s?.owner.id, ...(s?.shares ?? []).map((x) => x.person.id)]);
    return this.people().filter((p) => !had.has(p.id) && !p.disabled);
  });

  constructor() {
    this.load();
  }

  private load(): void {
    const { id } = this.data;
    forkJoin({ shares: this.api.shares(id), people: this.api.people(), audit: this.api.designAudit(id) }).subscribe({
      next: (x) => {
        this.shares.set(x.shares);
        this.people.set(x.people);
        this.audit.set(x.audit);
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }

  private done<T>(work: Observable<T>, then?: (x: T) => void): void {
    this.trouble.set('');
    work.subscribe({
      next: (x) => {
        then?.(x);
        this.load();
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }

  protected give(person: string, may: Given): void {
    this.done(this.api.share(this.data.id, person, may), () => this.chosen.set(undefined));
  }
  protected take(person: PersonLine): void {
    this.done(this.api.unshare(this.data.id, person.id));
  }
  protected makeLink(may: Given): void {
    this.done(this.api.makeLink(this.data.id, { may, days: LINK_DAYS }), (l) => {
      this.copied.set(false);
      this.fresh.set(`${location.origin}/link#${l.token}`);
    });
  }
  protected endLink(l: LinkLine): void {
    this.done(this.api.endLink(this.data.id, l.id), () => this.fresh.set(''));
  }
  protected copy(link: string): void {
    this.copied.set(this.clipboard.copy(link));
  }
}
