/** What a view shows stands in its address: filters, and what is open. */
import { inject } from '@angular/core';
import { Router } from '@angular/router';

export interface Address {
  /**
   * Changes these parameters and leaves the others; null takes one out.
   * @param isSameVisit the address before is no place to come back to
   */
  go(params: Record<string, string | number | null>, isSameVisit?: boolean): void;
  /** Goes to Trace with a piece in the middle. */
  trace(project: number, piece: string | undefined): void;
}

/** Call where dependencies can be injected. */
export function injectAddress(): Address {
  const router = inject(Router);
  return {
    go: (queryParams, isSameVisit = false) =>
      void router.navigate([], { queryParams, queryParamsHandling: 'merge', replaceUrl: isSameVisit }),
    trace: (project, piece) => {
      if (piece) void router.navigate(['/p', project, 'trace'], { queryParams: { piece } });
    },
  };
}
