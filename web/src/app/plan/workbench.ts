import { DestroyRef, inject, Injectable } from '@angular/core';
import type { Pointed, Preview, WrittenRule } from '@glue-trace/core/browser';
import type { Offers } from './plan-help';

export type Question =
  | { ask: 'preview'; plan: string; path: string; text: string; bases: Record<string, string> }
  | { ask: 'point'; text: string; format: NonNullable<Preview['format']>; offset: number }
  | { ask: 'say'; plan: string; path: string; rule: string | undefined; pointed: Pointed; saying: string }
  | { ask: 'format'; plan: string }
  | { ask: 'offers' | 'meaning'; plan: string; offset: number };

export interface Answer {
  preview?: Preview;
  pointed?: Pointed;
  plan?: string;
  written?: WrittenRule;
  offers?: Offers;
  meaning?: string;
}

/** The worker that reads and edits plans for the view; it ends with the view. */
@Injectable()
export class Workbench {
  private readonly worker = new Worker(new URL('./plan.worker', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<number, (answer: Answer) => void>();
  private number = 0;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<{ number: number; answer: Answer }>) => {
      this.waiting.get(data.number)?.(data.answer);
      this.waiting.delete(data.number);
    };
    inject(DestroyRef).onDestroy(() => this.worker.terminate());
  }

  ask(question: Question): Promise<Answer> {
    const number = ++this.number;
    this.worker.postMessage({ number, question });
    return new Promise((resolve) => this.waiting.set(number, resolve));
  }
}
