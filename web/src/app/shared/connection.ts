/** Whether the server answers: told to everybody at once, and what was asked meanwhile is asked again when it is back. */
import { HttpErrorResponse, type HttpInterceptorFn } from '@angular/common/http';
import { inject, Injectable, signal } from '@angular/core';
import { retry, Subject, take, throwError } from 'rxjs';
import { renewToken } from '../token';

/** In milliseconds. */
const LOOKED_EVERY = 1500;

@Injectable({ providedIn: 'root' })
export class Connection {
  readonly isLost = signal(false);
  readonly back = new Subject<void>();
  private isLooking = false;

  /** Somebody got no answer. */
  lost(): void {
    this.isLost.set(true);
    this.lookSoon();
  }

  /** A stream broke off: perhaps the server has stopped. */
  suspect(): void {
    if (!this.isLost()) void this.look();
  }

  private lookSoon(): void {
    if (this.isLooking) return;
    this.isLooking = true;
    setTimeout(() => {
      this.isLooking = false;
      void this.look();
    }, LOOKED_EVERY);
  }

  private async look(): Promise<void> {
    try {
      // A server that was started anew takes changes from pages with its own token only.
      await renewToken();
    } catch {
      return this.lost();
    }
    if (!this.isLost()) return;
    this.isLost.set(false);
    this.back.next();
  }
}

/** What only looks is asked again when the server is back; what changes something fails, and is left to whoever asked. */
export const withConnection: HttpInterceptorFn = (request, next) => {
  const connection = inject(Connection);
  return next(request).pipe(
    retry({
      delay: (error: unknown) => {
        if (!(error instanceof HttpErrorResponse) || error.status !== 0) return throwError(() => error);
        connection.lost();
        return request.method === 'GET' ? connection.back.pipe(take(1)) : throwError(() => error);
      },
    }),
  );
};
