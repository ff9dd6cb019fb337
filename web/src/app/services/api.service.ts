import { HttpClient, HttpErrorResponse } from '@angular/common/http';
import { Injectable, inject } from '@angular/core';
import { Observable, catchError, throwError, timeout } from 'rxjs';
import { DesignLine, ProblemAnswer, ROUTES, SaveAnswer, SaveRequest, StoredDesign } from '@unirota/contract';
import type { Design } from '@unirota/core/design';

/** A refusal or a failure of the server, in words for people. */
export class ServerTrouble extends Error {
  constructor(
    message: string,
    /** HTTP status; 0 when the server does not answer. */
    readonly status: number,
    readonly problem?: ProblemAnswer,
  ) {
    super(message);
  }
  /** Worth trying again by itself. */
  get passing(): boolean {
    return this.status === 0 || this.status === 429 || this.status >= 500;
  }
}

function toTrouble(e: unknown): ServerTrouble {
  if (!(e instanceof HttpErrorResponse)) return new ServerTrouble('The server does not answer', 0);
  let problem = e.error as ProblemAnswer | string | undefined;
  if (typeof problem === 'string') {
    try {
      problem = JSON.parse(problem) as ProblemAnswer;
    } catch {
      problem = undefined;
    }
  }
  const known = problem && typeof problem === 'object' && 'title' in problem ? (problem as ProblemAnswer) : undefined;
  return new ServerTrouble(known?.title ?? (e.status === 0 ? 'The server does not answer' : `The server answered ${e.status}`), e.status, known);
}

/** The HTTP interface, typed; every failure comes as ServerTrouble. */
@Injectable({ providedIn: 'root' })
export class ApiService {
  private readonly http = inject(HttpClient);

  list(): Observable<DesignLine[]> {
    return this.guarded(this.http.get<DesignLine[]>(ROUTES.designs));
  }
  read(id: string): Observable<StoredDesign> {
    return this.guarded(this.http.get<StoredDesign>(ROUTES.design(id)));
  }
  create(design: Design): Observable<StoredDesign> {
    return this.guarded(this.http.post<StoredDesign>(ROUTES.designs, { design, save: newId() }));
  }
  save(id: string, request: SaveRequest): Observable<SaveAnswer> {
    return this.guarded(this.http.put<SaveAnswer>(ROUTES.design(id), request));
  }
  copy(id: string): Observable<StoredDesign> {
    return this.guarded(this.http.post<StoredDesign>(ROUTES.copy(id), { save: newId() }));
  }
  remove(id: string): Observable<void> {
    return this.guarded(this.http.delete<void>(ROUTES.design(id)));
  }
  restore(id: string): Observable<StoredDesign> {
    return this.guarded(this.http.post<StoredDesign>(ROUTES.restore(id), {}));
  }

  private guarded<T>(o: Observable<T>): Observable<T> {
    return o.pipe(
      timeout(15_000),
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
