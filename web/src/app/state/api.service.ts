import { HttpClient, type HttpDownloadProgressEvent, HttpErrorResponse, HttpEventType } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import { Observable, catchError, concatMap, scan, switchMap, throwError, timeout } from 'rxjs';
import {
  AuditLine,
  ChangePassphrase,
  DeletedLine,
  DesignList,
  FolderLine,
  InvitationAnswer,
  InvitationLine,
  Join,
  LinkLine,
  ListOrder,
  May,
  NewLink,
  PersonChange,
  PersonLine,
  ProblemAnswer,
  ROUTES,
  NewRemark,
  ReleaseLine,
  RemarkLine,
  RemarksAnswer,
  RevisionLine,
  SaveAnswer,
  SaveRequest,
  SessionAnswer,
  SessionLine,
  SharesAnswer,
  SignIn,
  SignOutAnswer,
  StoredDesign,
  TransferAnswer,
} from '@unirota/contract';
import type { Design } from '@unirota/core/document';
import type { StrengthNews, StrengthRequest } from '@unirota/contract/strength';
import type { Sketch } from '@unirota/core';
import { SignInGate } from './sign-in-gate';

/** A refusal or a failure of the server, in words for people. */
export class ServerTrouble extends Error {
  constructor(
    message: string,
    /** HTTP status; 0 when the server does not answer. */
    readonly status: number,
    readonly problem?: ProblemAnswer,
    /** When the server asks to be tried again, s. */
    readonly retryAfter = 0,
  ) {
    super(message);
  }
  /** Worth trying again by itself: the server is away or busy, or nobody is signed in just now. */
  get passing(): boolean {
    return this.status === 0 || this.status === 401 || this.status === 429 || this.status >= 500;
  }
  /** What is wrong with one field of what was sent. */
  of(path: string): string | undefined {
    return this.problem?.problems?.find((p) => p.path === path)?.message;
  }
}

function toTrouble(e: unknown): ServerTrouble {
  if (!(e instanceof HttpErrorResponse)) return new ServerTrouble($localize`The server does not answer`, 0);
  let problem = e.error as ProblemAnswer | string | undefined;
  if (typeof problem === 'string') {
    try {
      problem = JSON.parse(problem) as ProblemAnswer;
    } catch {
      problem = undefined;
    }
  }
  const known = problem && typeof problem === 'object' && 'title' in problem ? (problem as ProblemAnswer) : undefined;
  return new ServerTrouble(
    known?.title ?? (e.status === 0 ? $localize`The server does not answer` : $localize`The server answered ${e.status}`),
    e.status,
    known,
    Number(e.headers.get('Retry-After')) || 0,
  );
}

/** How long an answer is waited for, ms; and one with the content of a shape, which may be large. */
const ANSWER_WITHIN = 15_000;
const CONTENT_WITHIN = 600_000;
/** The bytes as a buffer of their own. */
const whole = (b: Uint8Array<ArrayBuffer>): ArrayBuffer => (b.buffer.byteLength === b.length ? b.buffer : b.slice().buffer);

/** The HTTP interface, typed; every failure comes as ServerTrouble. */
/**
 * Documents that were stored by an earlier program are read as those of this one; what that takes is loaded with the first
 * document.
 */
const ofThisVersion = (answer: Observable<StoredDesign>): Observable<StoredDesign> =>
  answer.pipe(switchMap((stored) => import('./this-version').then(({ ofThisVersion: read }) => ({ ...stored, design: read(stored.design) }))));

@Injectable({ providedIn: 'root' })
export class ApiService {
  private readonly http = inject(HttpClient);

  private readonly gate = inject(SignInGate);

  list(request: { order: ListOrder; search: string; folder?: string; after?: string }): Observable<DesignList> {
    const params = {
      order: request.order,
      ...(request.search ? { search: request.search } : {}),
      ...(request.folder !== undefined ? { folder: request.folder } : {}),
      ...(request.after ? { after: request.after } : {}),
    };
    return this.guarded(this.http.get<DesignList>(ROUTES.designs, { params }));
  }
  folders(): Observable<FolderLine[]> {
    return this.guarded(this.http.get<FolderLine[]>(ROUTES.folders));
  }
  file(id: string, folder: string | null): Observable<void> {
    return this.guarded(this.http.put<void>(ROUTES.folder(id), { folder }));
  }
  read(id: string): Observable<StoredDesign> {
    return this.guarded(this.http.get<StoredDesign>(ROUTES.design(id))).pipe(ofThisVersion);
  }
  sketch(id: string): Observable<Sketch> {
    return this.guarded(this.http.get<Sketch>(ROUTES.sketch(id)));
  }
  /** Contents of shapes that are stored with a design, by hash; one of them; and one to be stored. */
  shapes(id: string): Observable<string[]> {
    return this.guarded(this.http.get<string[]>(ROUTES.shapes(id)));
  }
  shape(id: string, hash: string): Observable<ArrayBuffer> {
    return this.guarded(this.http.get(ROUTES.shape(id, hash), { responseType: 'arraybuffer' }), CONTENT_WITHIN);
  }
  putShape(id: string, hash: string, bytes: Uint8Array<ArrayBuffer>): Observable<unknown> {
    const headers = { 'Content-Type': 'application/octet-stream' };
    return this.guarded(this.http.put(ROUTES.shape(id, hash), whole(bytes), { headers }), CONTENT_WITHIN);
  }
  releases(id: string): Observable<ReleaseLine[]> {
    return this.guarded(this.http.get<ReleaseLine[]>(ROUTES.releases(id)));
  }
  /** Sends a zip of `release.json` and the files. */
  release(id: string, zip: Uint8Array<ArrayBuffer>): Observable<ReleaseLine> {
    const headers = { 'Content-Type': 'application/octet-stream' };
    return this.guarded(this.http.post<ReleaseLine>(ROUTES.releases(id), whole(zip), { headers }), CONTENT_WITHIN);
  }
  releaseFile(id: string, letter: string, name: string): Observable<ArrayBuffer> {
    return this.guarded(this.http.get(ROUTES.releaseFile(id, letter, name), { responseType: 'arraybuffer' }), CONTENT_WITHIN);
  }
  /** What has changed of a design's remarks since a change. */
  remarks(id: string, since: number): Observable<RemarksAnswer> {
    return this.guarded(this.http.get<RemarksAnswer>(ROUTES.remarks(id), { params: { since } }));
  }
  addRemark(id: string, remark: NewRemark): Observable<RemarkLine> {
    return this.guarded(this.http.post<RemarkLine>(ROUTES.remarks(id), remark));
  }
  changeRemark(id: string, remark: string, text: string): Observable<RemarkLine> {
    return this.guarded(this.http.put<RemarkLine>(ROUTES.remark(id, remark), { text }));
  }
  resolveRemark(id: string, remark: string, resolved: boolean): Observable<RemarkLine> {
    return this.guarded(this.http.put<RemarkLine>(ROUTES.remarkResolved(id, remark), { resolved }));
  }
  removeRemark(id: string, remark: string): Observable<void> {
    return this.guarded(this.http.delete<void>(ROUTES.remark(id, remark)));
  }
  create(design: Design): Observable<StoredDesign> {
    return this.guarded(this.http.post<StoredDesign>(ROUTES.designs, { design, save: newId() })).pipe(ofThisVersion);
  }
  save(id: string, request: SaveRequest): Observable<SaveAnswer> {
    return this.guarded(this.http.put<SaveAnswer>(ROUTES.design(id), request));
  }
  /** Stores work beside the line: nothing that stands there changes. */
  aside(id: string, request: SaveRequest): Observable<SaveAnswer> {
    return this.guarded(this.http.post<SaveAnswer>(ROUTES.aside(id), request));
  }
  copy(id: string): Observable<StoredDesign> {
    return this.guarded(this.http.post<StoredDesign>(ROUTES.copy(id), { save: newId() })).pipe(ofThisVersion);
  }
  remove(id: string): Observable<void> {
    return this.guarded(this.http.delete<void>(ROUTES.design(id)));
  }
  restore(id: string): Observable<StoredDesign> {
    return this.guarded(this.http.post<StoredDesign>(ROUTES.restore(id), {})).pipe(ofThisVersion);
  }

  deleted(): Observable<DeletedLine[]> {
    return this.guarded(this.http.get<DeletedLine[]>(ROUTES.deleted));
  }

  revisions(id: string): Observable<RevisionLine[]> {
    return this.guarded(this.http.get<RevisionLine[]>(ROUTES.revisions(id)));
  }
  revision(id: string, n: number): Observable<StoredDesign> {
    return this.guarded(this.http.get<StoredDesign>(ROUTES.revision(id, n))).pipe(ofThisVersion);
  }
  revisionSketch(id: string, n: number): Observable<Sketch> {
    return this.guarded(this.http.get<Sketch>(ROUTES.revisionSketch(id, n)));
  }
  label(id: string, n: number, label: string | null): Observable<void> {
    return this.guarded(this.http.put<void>(ROUTES.revision(id, n), { label }));
  }

  session(): Observable<SessionAnswer> {
    return this.plain(this.http.get<SessionAnswer>(ROUTES.session));
  }
  signIn(request: SignIn): Observable<SessionAnswer> {
    return this.plain(this.http.post<SessionAnswer>(ROUTES.session, request));
  }
  join(request: Join): Observable<SessionAnswer> {
    return this.plain(this.http.post<SessionAnswer>(ROUTES.join, request));
  }
  signOut(): Observable<SignOutAnswer> {
    return this.plain(this.http.delete<SignOutAnswer>(ROUTES.session));
  }
  signOutEverywhere(): Observable<void> {
    return this.plain(this.http.delete<void>(ROUTES.sessions));
  }
  sessions(): Observable<SessionLine[]> {
    return this.guarded(this.http.get<SessionLine[]>(ROUTES.sessions));
  }
  endSession(id: string): Observable<void> {
    return this.guarded(this.http.delete<void>(ROUTES.oneSession(id)));
  }
  changePassphrase(request: ChangePassphrase): Observable<void> {
    return this.guarded(this.http.put<void>(ROUTES.passphrase, request));
  }
  people(): Observable<PersonLine[]> {
    return this.guarded(this.http.get<PersonLine[]>(ROUTES.people));
  }
  changePerson(id: string, change: PersonChange): Observable<void> {
    return this.guarded(this.http.patch<void>(ROUTES.person(id), change));
  }
  transfer(person: string, to: string): Observable<TransferAnswer> {
    return this.guarded(this.http.post<TransferAnswer>(ROUTES.transfer(person), { to }));
  }
  invite(role: 'administrator' | 'member'): Observable<InvitationAnswer> {
    return this.guarded(this.http.post<InvitationAnswer>(ROUTES.invitations, { role }));
  }
  invitations(): Observable<InvitationLine[]> {
    return this.guarded(this.http.get<InvitationLine[]>(ROUTES.invitations));
  }
  revokeInvitation(id: string): Observable<void> {
    return this.guarded(this.http.delete<void>(ROUTES.invitation(id)));
  }
  offerNewPassphrase(person: string): Observable<InvitationAnswer> {
    return this.guarded(this.http.post<InvitationAnswer>(ROUTES.reset(person), {}));
  }
  audit(): Observable<AuditLine[]> {
    return this.guarded(this.http.get<AuditLine[]>(ROUTES.audit));
  }

  /** Has the server make a strength model: what it tells as it goes. Ended by unsubscribing. */
  strength(request: StrengthRequest): Observable<StrengthNews> {
    const told = this.http.post(ROUTES.strength, request, { observe: 'events', reportProgress: true, responseType: 'text' }).pipe(
      scan(
        ({ heard }, event) => {
          const text =
            event.type === HttpEventType.DownloadProgress
              ? ((event as HttpDownloadProgressEvent).partialText ?? '')
              : event.type === HttpEventType.Response
                ? (event.body ?? '')
                : '';
          // A line is whole when its end is there.
          const end = text.lastIndexOf('\n') + 1;
          return end > heard ? { heard: end, lines: text.slice(heard, end).split('\n') } : { heard, lines: [] };
        },
        { heard: 0, lines: [] as string[] },
      ),
      concatMap(({ lines }) => lines.filter((l) => l.trim()).map((l) => JSON.parse(l) as StrengthNews)),
      catchError((e: unknown) => throwError(() => toTrouble(e))),
    );
    return told.pipe(
      catchError((e: ServerTrouble) =>
        e.problem?.signIn ? this.gate.signIn().pipe(switchMap((done) => (done ? told : throwError(() => e)))) : throwError(() => e),
      ),
    );
  }

  shares(id: string): Observable<SharesAnswer> {
    return this.guarded(this.http.get<SharesAnswer>(ROUTES.shares(id)));
  }
  share(id: string, person: string, may: Exclude<May, 'own'>): Observable<void> {
    return this.guarded(this.http.put<void>(ROUTES.share(id, person), { may }));
  }
  unshare(id: string, person: string): Observable<void> {
    return this.guarded(this.http.delete<void>(ROUTES.share(id, person)));
  }
  makeLink(id: string, link: NewLink): Observable<LinkLine> {
    return this.guarded(this.http.post<LinkLine>(ROUTES.shareLinks(id), link));
  }
  endLink(id: string, link: string): Observable<void> {
    return this.guarded(this.http.delete<void>(ROUTES.shareLink(id, link)));
  }
  takeLink(token: string): Observable<{ id: string }> {
    return this.guarded(this.http.post<{ id: string }>(ROUTES.takeLink, { token }));
  }
  designAudit(id: string): Observable<AuditLine[]> {
    return this.guarded(this.http.get<AuditLine[]>(ROUTES.designAudit(id)));
  }

  /** Asks; where nobody is signed in any more, lets the person sign in and asks once more. */
  private guarded<T>(o: Observable<T>, within = ANSWER_WITHIN): Observable<T> {
    return this.plain(o, within).pipe(
      catchError((e: ServerTrouble) =>
        e.problem?.signIn ? this.gate.signIn().pipe(switchMap((done) => (done ? this.plain(o, within) : throwError(() => e)))) : throwError(() => e),
      ),
    );
  }

  private plain<T>(o: Observable<T>, within = ANSWER_WITHIN): Observable<T> {
    return o.pipe(
      timeout(within),
      catchError((e: unknown) => throwError(() => toTrouble(e))),
    );
  }
}

/** A random UUID; also where the page is not served over a secure address. */
export function newId(): string {
  const b = crypto.getRandomValues(new Uint8Array(16));
  b[6] = (b[6] & 0x0f) | 0x40;
  b[8] = (b[8] & 0x3f) | 0x80;
  const h = [...b].map((x) => x.toString(16).padStart(2, '0')).join('');
  return `${h.slice(0, 8)}-${h.slice(8, 12)}-${h.slice(12, 16)}-${h.slice(16, 20)}-${h.slice(20)}`;
}
