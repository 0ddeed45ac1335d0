/** A view as the browser shows it, with the real store and effects and an API that answers from the spec. */
import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter, Router, withComponentInputBinding } from '@angular/router';
import { RouterTestingHarness } from '@angular/router/testing';
import type { PieceName, TraceLine, TracePage } from '@glue-trace/core';
import type { FindingPage, FindingRow, ProjectView } from '@glue-trace/server/api';
import { routes } from '../app.routes';
import { provideState } from '../app.store';

export interface Page {
  element: HTMLElement;
  /** Answers all open requests to an address (without its query). */
  answer(url: string, body: unknown, status?: number): Promise<unknown>;
  /** Answers what may be asked later: whether it was asked. */
  answerIfAsked(url: string, body: unknown): boolean;
  /** Text of what a selector finds, white space folded. */
  text(selector: string): string;
  texts(selector: string): string[];
  click(selector: string): Promise<void>;
  press(key: string): Promise<void>;
  url(): string;
  /** Waits until what is under way has been drawn. */
  settle(): Promise<void>;
}

export async function openPage(url: string): Promise<Page> {
  // What another spec narrowed is no visit before this one.
  localStorage.removeItem('glue-findings-1');
  return openPageAgain(url);
}

/** With what an earlier visit left in the browser. */
export async function openPageAgain(url: string): Promise<Page> {
  TestBed.configureTestingModule({
    providers: [
      provideZonelessChangeDetection(),
      provideHttpClient(),
      provideHttpClientTesting(),
      provideRouter(routes, withComponentInputBinding()),
      ...provideState(),
    ],
  });
  const harness = await RouterTestingHarness.create(url);
  const http = TestBed.inject(HttpTestingController);
  const element = harness.routeNativeElement!;
  document.body.append(element);
  const settle = async (): Promise<void> => {
    await harness.fixture.whenStable();
    await new Promise((resolve) => setTimeout(resolve));
    await harness.fixture.whenStable();
  };
  await settle();
  const fold = (found: Element): string => (found.textContent ?? '').replace(/\s+/g, ' ').trim();
  return {
    element,
    settle,
    answerIfAsked(address, body) {
      const requests = http.match((one) => one.url === address).filter((request) => !request.cancelled);
      for (const request of requests) request.flush(body as object);
      return requests.length > 0;
    },
    async answer(address, body, status = 200) {
      const requests = http.match((one) => one.url === address).filter((request) => !request.cancelled);
      if (requests.length === 0) throw new Error(`nothing asks for ${address}`);
      for (const request of requests) {
        if (status === 200) request.flush(body as object);
        else request.flush(body as object, { status, statusText: 'no' });
      }
      await settle();
      return requests.at(-1)!.request.body as unknown;
    },
    text: (selector) => [...element.querySelectorAll(selector)].map(fold).join(' | '),
    texts: (selector) => [...element.querySelectorAll(selector)].map(fold),
    async click(selector) {
      element.querySelector<HTMLElement>(selector)!.click();
      await settle();
    },
    async press(key) {
      document.body.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true }));
      await settle();
    },
    url: () => decodeURIComponent(TestBed.inject(Router).url),
  };
}

export const project = (changes: Partial<ProjectView> = {}): ProjectView => ({
  id: 1,
  name: 'Sluicekeeper',
  folder: '/games/sluicekeeper',
  openedAt: '2026-01-01T00:00:00Z',
  plan: 'ready',
  planError: null,
  running: null,
  lastScan: {
    id: 1,
    projectId: 1,
    state: 'done',
    startedAt: '2026-01-01T00:00:00Z',
    milliseconds: 100,
    reused: 0,
    error: null,
  },
  verdict: 'Not ready to play: 1 thing will fail',
  ...changes,
});

export const row = (fingerprint: string, words: string): FindingRow => ({
  position: 0,
  fingerprint,
  check: 'broken/missing-object',
  severity: 'error',
  file: 'scripts/rope.ts',
  line: 4,
  text: words,
  sentence: [words],
  places: 1,
  waived: 0,
  note: null,
});

export const findingPage = (rows: FindingRow[], total = rows.length, offset = 0): FindingPage => ({
  scanId: 1,
  offset,
  total,
  rows,
  byCheck: [{ check: 'broken/missing-object', count: total }],
  byFolder: [{ folder: 'scripts', count: total }],
  bySeverity: [{ severity: 'error', count: total }],
  waived: 0,
  before: null,
});

export const piece = (kind: PieceName['kind'], title: string): PieceName => ({
  key: `${kind}:${title}`,
  kind,
  name: title.split(' / ').pop()!,
  title,
});

export const line = (
  verb: TraceLine['link']['verb'],
  from: PieceName,
  to: PieceName | null,
  changes: Partial<TraceLine> = {},
): TraceLine => ({
  link: {
    verb,
    grip: to ? 'name' : 'lost',
    scope: 'unknown',
    moment: 'unknown',
    side: 'unknown',
    label: 'x',
    file: 'scripts/rope.ts',
    range: { line: 4, column: 2, endLine: 4, endColumn: 9 },
  },
  from,
  to,
  places: [],
  placeCount: 1,
  targets: [],
  targetCount: 1,
  loss: null,
  walk: [],
  ...changes,
});

export function tracePage(of: PieceName, groups: Partial<Pick<TracePage, 'reliedOnBy' | 'reliesOn'>>): TracePage {
  return {
    piece: {
      ...of,
      index: 0,
      id: '',
      parent: -1,
      file: 'scripts/rope.ts',
      range: { line: 1, column: 1, endLine: 1, endColumn: 2 },
      isOff: false,
      isBarred: false,
    },
    within: [],
    runsOn: [],
    runsOnCount: 0,
    heirCount: 0,
    reliedOnBy: [],
    reliesOn: [],
    holds: [],
    holdsCount: 0,
    ...groups,
  };
}
