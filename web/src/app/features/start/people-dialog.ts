import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { Clipboard } from '@angular/cdk/clipboard';
import { DatePipe } from '@angular/common';
import { FormControl, FormGroup, ReactiveFormsModule } from '@angular/forms';
import { MatButton } from '@angular/material/button';
import { MatDialogActions, MatDialogClose, MatDialogContent, MatDialogTitle } from '@angular/material/dialog';
import { MatFormField, MatLabel } from '@angular/material/form-field';
import { MatInput } from '@angular/material/input';
import { MatMenu, MatMenuItem, MatMenuTrigger } from '@angular/material/menu';
import { MatTableModule } from '@angular/material/table';
import { MatTab, MatTabGroup } from '@angular/material/tabs';
import type { Observable } from 'rxjs';
import {
  type AuditLine,
  type InvitationAnswer,
  type InvitationLine,
  LONGEST_PASSPHRASE,
  type PersonChange,
  type PersonLine,
  type SessionLine,
} from '@unirota/contract';
import { ApiService, type ServerTrouble } from '../../state/api.service';
import { PassphraseField } from '../../ui/passphrase-field';
import { SessionService } from '../../state/session.service';

/** One's own account; for an administrator also the people of this server and what they did. */
@Component({
  selector: 'uni-people-dialog',
  imports: [
    DatePipe,
    MatButton,
    MatDialogActions,
    MatDialogClose,
    MatDialogContent,
    MatDialogTitle,
    PassphraseField,
    MatFormField,
    MatInput,
    MatLabel,
    MatMenu,
    MatMenuItem,
    MatMenuTrigger,
    MatTab,
    MatTabGroup,
    MatTableModule,
    ReactiveFormsModule,
  ],
  template: `
    <h2 matDialogTitle>{{ me()?.name }}</h2>
    <mat-dialog-content>
      @if (trouble(); as t) {
        <p class="trouble" role="alert">{{ t }}</p>
      }
      <mat-tab-group animationDuration="0">
        <mat-tab i18n-label label="My account">
          <form [formGroup]="form" (ngSubmit)="change()">
            <uni-passphrase-field i18n-label label="Present passphrase" [control]="form.controls.current" />
            <uni-passphrase-field i18n-label label="New passphrase" autocomplete="new-password" [longest]="longest" [control]="form.controls.next" />
            <span class="row">
              <button i18n matButton="outlined" type="submit">Change the passphrase</button>
              <span role="status">{{ said() }}</span>
            </span>
          </form>
          <span class="row">
            @for (i of session.issuers(); track i.id) {
              <a i18n matButton="outlined" [href]="i.address">Add sign-in with {{ i.name }}</a>
            }
            <button i18n matButton="outlined" type="button" (click)="session.signOut()">Sign out</button>
            <button i18n matButton type="button" (click)="session.signOut(true)">Sign out everywhere</button>
          </span>
          <h3 i18n>Signed in</h3>
          <ul i18n-aria-label class="open" aria-label="Signed in">
            @for (s of sessions(); track s.id) {
              <li i18n>
                Since {{ s.begun | date: 'd MMM y, HH:mm' }}, last seen {{ s.seen | date: 'd MMM, HH:mm' }}
                @if (s.present) {
                  <span class="soft">· here</span>
                } @else {
                  <button matButton type="button" (click)="run(api.endSession(s.id))">Sign out there</button>
                }
              </li>
            }
          </ul>
        </mat-tab>
        @if (me()?.role === 'administrator') {
          <mat-tab i18n-label label="People">
            <table i18n-aria-label mat-table [dataSource]="people()" aria-label="People of this server">
              <ng-container matColumnDef="name">
                <th i18n mat-header-cell *matHeaderCellDef>Name</th>
                <td mat-cell *matCellDef="let p">{{ p.name }}</td>
              </ng-container>
              <ng-container matColumnDef="login">
                <th i18n mat-header-cell *matHeaderCellDef>Sign-in name</th>
                <td mat-cell *matCellDef="let p">{{ p.login }}</td>
              </ng-container>
              <ng-container matColumnDef="role">
                <th i18n mat-header-cell *matHeaderCellDef>Role</th>
                <td mat-cell *matCellDef="let p">{{ p.disabled ? 'closed' : p.role }}</td>
              </ng-container>
              <ng-container matColumnDef="acts">
                <th mat-header-cell *matHeaderCellDef><span i18n class="visually-hidden">What can be done</span></th>
                <td mat-cell *matCellDef="let p">
                  <button i18n matButton type="button" (click)="reset(p)">New passphrase</button>
                  <button matButton type="button" (click)="set(p, { role: p.role === 'member' ? 'administrator' : 'member' })">
                    {{ p.role === 'member' ? 'Make administrator' : 'Make member' }}
                  </button>
                  <button matButton type="button" (click)="set(p, { disabled: !p.disabled })">
                    {{ p.disabled ? 'Open account' : 'Close account' }}
                  </button>
                  @if (p.disabled) {
                    <button i18n matButton type="button" [matMenuTriggerFor]="heirs">Transfer designs</button>
                    <mat-menu #heirs="matMenu">
                      @for (h of open(); track h.id) {
                        <button i18n mat-menu-item type="button" (click)="transfer(p, h)">To {{ h.name }}</button>
                      }
                    </mat-menu>
                  }
                </td>
              </ng-container>
              <tr mat-header-row *matHeaderRowDef="columns"></tr>
              <tr mat-row *matRowDef="let p; columns: columns" [class.soft]="p.disabled"></tr>
            </table>
            <span role="status">{{ moved() }}</span>
            <span class="row">
              <button i18n matButton="filled" type="button" (click)="invite('member')">Invite somebody</button>
              <button i18n matButton="outlined" type="button" (click)="invite('administrator')">Invite an administrator</button>
            </span>
            @if (invitations().length) {
              <h3 i18n>Open invitations</h3>
              <ul class="open">
                @for (i of invitations(); track i.id) {
                  <li i18n>
                    {{ i.person ? 'New passphrase for ' + i.person : 'Invitation as ' + i.role }}{{ i.by ? ', from ' + i.by : '' }}, until
                    {{ i.expires | date: 'd MMM y' }}
                    <button matButton type="button" (click)="revoke(i)">Revoke</button>
                  </li>
                }
              </ul>
            }
            @if (link(); as l) {
              <span class="row">
                <mat-form-field appearance="outline" subscriptSizing="dynamic" class="link">
                  <mat-label i18n>{{ linkFor() }} (shown this once, for 7 days)</mat-label>
                  <input matInput readonly [value]="l" />
                </mat-form-field>
                <button matButton="filled" type="button" (click)="copied.set(clipboard.copy(l))">{{ copied() ? 'Copied' : 'Copy' }}</button>
              </span>
            }
          </mat-tab>
          <mat-tab i18n-label label="What was done">
            <ul i18n-aria-label tabindex="0" aria-label="What was done">
              @for (a of audit(); track $index) {
                <li>
                  <span class="soft">{{ a.last | date: 'd MMM y, HH:mm' }}</span> {{ a.person }} {{ a.action }} {{ a.design?.name }}
                  {{ a.times > 1 ? a.times + ' times' : '' }} {{ a.detail }}
                </li>
              }
            </ul>
          </mat-tab>
        }
      </mat-tab-group>
    </mat-dialog-content>
    <mat-dialog-actions><button i18n matButton type="button" matDialogClose>Close</button></mat-dialog-actions>
  `,
  styles: `
    form {
      display: grid;
      gap: 12px;
      max-width: 340px;
      padding: 14px 0;
    }
    .row {
      display: flex;
      gap: 8px;
      align-items: center;
      padding: 6px 0;
    }
    h3 {
      margin: 12px 0 0;
      font-size: 14px;
    }
    .open {
      max-height: 120px;
      margin: 4px 0;
    }
    .link {
      flex: 1;
    }
    table {
      width: 100%;
      margin-top: 6px;
    }
    td,
    th {
      padding: 0 8px 0 0;
    }
    td:last-child {
      white-space: nowrap;
      text-align: right;
    }
    ul {
      margin: 10px 0;
      padding: 0;
      list-style: none;
      max-height: 360px;
      overflow: auto;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeopleDialog {
  protected readonly api = inject(ApiService);
  protected readonly session = inject(SessionService);
  protected readonly clipboard = inject(Clipboard);
  protected readonly longest = LONGEST_PASSPHRASE;
  protected readonly columns = ['name', 'login', 'role', 'acts'];
  protected readonly people = signal<PersonLine[]>([]);
  protected readonly invitations = signal<InvitationLine[]>([]);
  protected readonly audit = signal<AuditLine[]>([]);
  protected readonly sessions = signal<SessionLine[]>([]);
  /** Who may be given the designs of a closed account. */
  protected readonly open = computed(() => this.people().filter((p) => !p.disabled));
  protected readonly moved = signal('');
  protected readonly trouble = signal('');
  protected readonly said = signal('');
  protected readonly link = signal('');
  protected readonly linkFor = signal('');
  protected readonly copied = signal(false);
  protected readonly form = new FormGroup({
    current: new FormControl('', { nonNullable: true }),
    next: new FormControl('', { nonNullable: true }),
  });

  constructor() {
    this.load();
  }

  protected me(): { name: string; role: string } | undefined {
    return this.session.session()?.person;
  }

  private load(): void {
    const failed = (e: Error): void => this.trouble.set(e.message);
    this.api.sessions().subscribe({ next: (s) => this.sessions.set(s), error: failed });
    if (this.me()?.role !== 'administrator') return;
    this.api.people().subscribe({ next: (p) => this.people.set(p), error: failed });
    this.api.invitations().subscribe({ next: (i) => this.invitations.set(i), error: failed });
    this.api.audit().subscribe({ next: (a) => this.audit.set(a), error: failed });
  }

  protected change(): void {
    this.said.set('');
    this.api.changePassphrase(this.form.getRawValue()).subscribe({
      next: () => {
        this.form.reset();
        this.said.set($localize`Changed; other sessions have ended`);
      },
      error: (e: ServerTrouble) => {
        for (const key of ['current', 'next'] as const) {
          const message = e.of(key);
          this.form.controls[key].setErrors(message ? { server: message } : null);
          this.form.controls[key].markAsTouched();
        }
        if (!e.of('current') && !e.of('next')) this.trouble.set(e.message);
      },
    });
  }

  protected set(p: PersonLine, change: PersonChange): void {
    this.run(this.api.changePerson(p.id, change));
  }
  protected invite(role: 'administrator' | 'member'): void {
    this.run(this.api.invite(role), (a) => this.show(a, role === 'member' ? $localize`Invitation` : $localize`Invitation of an administrator`, ''));
  }
  protected transfer(from: PersonLine, to: PersonLine): void {
    this.moved.set('');
    this.run(this.api.transfer(from.id, to.id), ({ designs }) => {
      this.moved.set(
        $localize`${designs === 1 ? '1 design' : `${designs} designs`} of ${from.name} now belong${designs === 1 ? 's' : ''} to ${to.name}.`,
      );
    });
  }
  protected revoke(i: InvitationLine): void {
    this.run(this.api.revokeInvitation(i.id));
  }
  protected reset(p: PersonLine): void {
    this.run(this.api.offerNewPassphrase(p.id), (a) => this.show(a, $localize`New passphrase for ${p.name}`, '.anew'));
  }

  private show({ token }: InvitationAnswer, what: string, kind: string): void {
    this.copied.set(false);
    this.linkFor.set(what);
    this.link.set(`${location.origin}/join#${token}${kind}`);
  }

  protected run<T>(work: Observable<T>, then?: (x: T) => void): void {
    this.trouble.set('');
    work.subscribe({
      next: (x) => {
        then?.(x);
        this.load();
      },
      error: (e: Error) => this.trouble.set(e.message),
    });
  }
}
