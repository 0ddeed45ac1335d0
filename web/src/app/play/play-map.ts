import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { PlayFinding, Stop } from '@glue-trace/core';
import type { PlayMapView, PlaySessionView } from '@glue-trace/server/api';
import { LeftOut } from '../shared/left-out';
import { RouteDrawing, type StopSaid } from '../shared/route-drawing';
import { SentenceText } from '../shared/sentence';

/** What was found in sessions of play, and how much of the map they showed. */
@Component({
  selector: 'glue-play-map',
  imports: [LeftOut, RouteDrawing, RouterLink, SentenceText],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './play-map.html',
  styleUrl: './play-map.scss',
})
export class PlayMap {
  readonly project = input.required<number>();
  readonly map = input.required<PlayMapView>();
  /** All sessions that can be judged together. */
  readonly sessions = input.required<readonly PlaySessionView[]>();
  /** An event of a session was chosen. */
  readonly shown = output<{ session: number; at: number }>();
  /** Key of a piece that was chosen. */
  readonly traced = output<string>();
  /** These sessions are to be judged together. */
  readonly judge = output<number[]>();

  protected readonly groups = computed(() => {
    const { findings, checks, counts } = this.map();
    return checks.map((check) => {
      const found = findings.filter((one) => one.check === check.id);
      return { check, findings: found, more: (counts[check.id] ?? 0) - found.length };
    });
  });
  protected readonly total = computed(() => Object.values(this.map().counts).reduce((sum, count) => sum + count, 0));
  protected readonly judged = computed(() => new Set(this.map().judged.map(({ id }) => id)));
  protected readonly parts = computed(() => {
    const { scenes, events, wires, spawns } = this.map().seen;
    return [
      { ...scenes, words: 'scenes loaded' },
      { ...events, words: 'events sent' },
      ...(wires ? [{ ...wires, words: 'listeners handled' }] : []),
      { ...spawns, words: 'things spawned' },
    ].filter(({ of }) => of > 0);
  });
  protected readonly left = computed(() => this.map().judged.reduce((sum, { left }) => sum + left, 0));
  protected readonly says = ({ seen }: Stop): StopSaid => {
    if (!seen || seen.loaded === 0) return { words: 'never loaded', look: 'plain' };
    const { wires, events } = seen;
    const part = wires ? `${wires.seen} of ${wires.of} wires` : `${events.seen} of ${events.of} events`;
    const whole = wires ?? events;
    return {
      words: `${seen.loaded === 1 ? 'once' : `${seen.loaded}×`}, ${part}`,
      look: whole.seen === whole.of ? 'good' : 'warning',
    };
  };

  protected change(id: number, isIn: boolean): void {
    const wanted = new Set(this.judged());
    if (isIn) wanted.add(id);
    else wanted.delete(id);
    if (wanted.size > 0) this.judge.emit([...wanted]);
  }
  protected sessionOf({ session }: PlayFinding['lines'][number]): { id: number; name: string } | undefined {
    return this.map().judged[session];
  }
}
