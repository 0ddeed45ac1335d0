import { itemAt } from '@glue-trace/core/browser';
import { NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatButtonModule } from '@angular/material/button';
import { RouterLink } from '@angular/router';
import type { ExcerptView, FindingDetail } from '@glue-trace/server/api';
import { FindingNote } from './finding-note';
import { RepairList } from '../repairs/repair-list';
import { sectionId } from '../docs/section-id';
import { Evidence } from '../shared/evidence';
import { GripMark } from '../shared/grip-mark';
import { saidOfPlay } from '../shared/said-of-play';
import { SentenceText } from '../shared/sentence';

type EvidenceAt = FindingDetail['evidence'][number];

const IN_TWINS = new Set(['twin/copied-code', 'twin/sibling-rule', 'twin/copied-wiring', 'twin/near-same-asset']);
/** The second piece of these is the parent. */
const IN_FAMILIES = new Set(['fragile/silent-override', 'fragile/unset-inherited']);

/** One finding: its sentence, evidence, why it is sure, and what to do. */
@Component({
  selector: 'glue-finding-pane',
  imports: [Evidence, FindingNote, GripMark, MatButtonModule, NgTemplateOutlet, RepairList, RouterLink, SentenceText],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div>
      <span class="tag {{ finding().severity }}">{{ finding().severity }}</span>
      <span class="mono">{{ finding().check }}</span>
    </div>
    <h1><glue-sentence [runs]="finding().sentence" /></h1>
    <p class="actions">
      <a
        matButton="filled"
        [routerLink]="['/p', project(), 'trace']"
        [queryParams]="{ piece: finding().pieces[0]?.key }"
        >Trace it <kbd>t</kbd></a
      >
      @for (piece of others(); track piece.key) {
        <a matButton="outlined" [routerLink]="['/p', project(), 'trace']" [queryParams]="{ piece: piece.key }">{{
          piece.name
        }}</a>
      }
      <button matButton="outlined" (click)="decide.emit()">
        {{ finding().waived ? 'Take back' : 'Waive' }} <kbd>w</kbd>
      </button>
      @if (elsewhere(); as view) {
        <a matButton="outlined" [routerLink]="['/p', project(), view.path]" [queryParams]="view.query">{{
          view.title
        }}</a>
      }
    </p>
    @if (finding().play; as play) {
      <p class="decided played" [class.over]="play.failed > 0">
        <a [routerLink]="['/p', project(), 'play']">In play</a>: {{ saidOfPlay(play) }}
      </p>
    }
    @if (finding().waived; as waived) {
      <p class="decided">
        Waived{{ waived.isInFile ? ' by a line of the file itself' : '' }}{{ waived.by ? ' by ' + waived.by : ''
        }}{{ waived.until ? ' until ' + waived.until : '' }}: {{ waived.reason }}
      </p>
    }
    @if (finding().waiverEnded; as ended) {
      <p class="decided over">It was waived until {{ ended.until }}, and counts again: {{ ended.reason }}</p>
    }
    @if (finding().walk.length > 0) {
      <h2>The walk</h2>
      <table>
        @for (step of finding().walk; track $index) {
          <tr>
            <td class="dim">{{ step.asks }}</td>
            <td [class.lost]="step.grip === 'lost'">
              @if (step.key) {
                <a [routerLink]="['/p', project(), 'trace']" [queryParams]="{ piece: step.key }">{{ step.finds }}</a>
              } @else {
                {{ step.finds }}
              }
            </td>
            <td><glue-grip [grip]="step.grip" /></td>
          </tr>
        }
      </table>
    }
    <h2>Evidence</h2>
    @for (one of evidence().slice(0, firstEvidence); track one.at) {
      <ng-container *ngTemplateOutlet="place; context: one" />
    }
    @if (evidence().length > firstEvidence) {
      <details>
        <summary>{{ evidence().length - firstEvidence }} more of {{ finding().places }} places</summary>
        @for (one of evidence().slice(firstEvidence); track one.at) {
          <ng-container *ngTemplateOutlet="place; context: one" />
        }
      </details>
    }
    <ng-template #place let-evidence="evidence" let-at="at">
      @if (excerpts()[at]; as excerpt) {
        <glue-evidence [excerpt]="excerpt" [shows]="evidence.shows" [columns]="evidence.range" />
      } @else {
        <p>
          <code>{{ evidence.file }}:{{ evidence.range.line }}</code
          >&ngsp;<span class="dim">{{ evidence.shows }}</span>
        </p>
      }
    </ng-template>
    <h2>Why it is sure</h2>
    <p>{{ finding().sure }}</p>
    @if (finding().repairs.length > 0) {
      <h2>What to do</h2>
      <glue-repairs [project]="project()" [finding]="finding()" />
    }
    @if (finding().beside.length > 0) {
      <h2>Also about {{ finding().pieces[0]?.name }}</h2>
      <ul class="beside">
        @for (one of finding().beside; track one.fingerprint) {
          <li>
            <span class="tag {{ one.severity }}">{{ one.severity }}</span>
            <button class="plain" (click)="opens.emit(one.fingerprint)">{{ one.text }}</button>
          </li>
        }
      </ul>
    }
    <h2>Note <kbd>n</kbd></h2>
    <glue-finding-note [project]="project()" [fingerprint]="finding().fingerprint" [note]="finding().note" />
    @if (checkTitle()) {
      <p class="dim">
        <a routerLink="/docs/checks" [fragment]="sectionId(finding().check)">{{ checkTitle() }}</a> · fingerprint
        {{ finding().fingerprint }}
      </p>
    }
  `,
  styles: `
    h1 {
      font-size: 16px;
      line-height: 22px;
      margin-top: 6px;
    }
    .actions {
      display: flex;
      flex-wrap: wrap;
      gap: 6px;
    }
    .actions kbd {
      margin-left: 4px;
    }
    table {
      border-collapse: collapse;
      width: 100%;
    }
    td {
      padding: 3px 8px 3px 0;
      vertical-align: top;
      overflow-wrap: anywhere;
    }
    td:first-child,
    aside td:first-child {
      white-space: nowrap;
    }
    .lost {
      color: var(--brick);
    }
    p {
      margin: 4px 0;
    }
    .decided {
      padding: 4px 8px;
      border-radius: 6px;
      background: var(--moss-bg);
      overflow-wrap: anywhere;
    }
    .played {
      background: var(--well);
    }
    .over {
      background: var(--ochre-bg);
    }
    .beside {
      margin: 4px 0;
      padding: 0;
      list-style: none;
    }
    .beside li {
      display: flex;
      gap: 8px;
      align-items: baseline;
      margin: 4px 0;
    }
    summary {
      margin: 8px 0;
      cursor: pointer;
    }
  `,
})
export class FindingPane {
  readonly project = input.required<number>();
  /** A line that shows several things is shown once, with all that it shows. */
  protected readonly evidence = computed(() => {
    const places = new Map<string, { evidence: EvidenceAt; at: number }>();
    this.finding().evidence.forEach((evidence, at) => {
      const key = `${evidence.file}:${evidence.range.line}`;
      const known = places.get(key);
      if (!known) places.set(key, { evidence, at });
      else if (!known.evidence.shows.includes(evidence.shows))
        known.evidence = { ...known.evidence, shows: `${known.evidence.shows}; ${evidence.shows}` };
    });
    return [...places.values()];
  });
  protected readonly saidOfPlay = saidOfPlay;
  readonly finding = input.required<FindingDetail>();
  /** One for each evidence, in order; null where the file cannot be shown. */
  readonly excerpts = input.required<(ExcerptView | null)[]>();
  readonly checkTitle = input('');
  /** Accept it, or take that back. */
  readonly decide = output();
  /** Another finding is wanted. */
  readonly opens = output<string>();
  protected readonly sectionId = sectionId;

  /** More than these are folded away, so that what to do about them stays in sight. */
  protected readonly firstEvidence = 4;

  /** The view in which it appears beside others of its kind. */
  protected readonly elsewhere = computed(() => {
    const { check, pieces, evidence } = this.finding();
    if (IN_TWINS.has(check)) return { path: 'twins', title: 'See in Twins', query: { text: itemAt(evidence, 0).file } };
    if (IN_FAMILIES.has(check) && pieces.length > 1)
      return { path: 'families', title: 'See in Families', query: { family: itemAt(pieces, 1).key } };
    const event = pieces.find(({ kind }) => kind === 'event');
    return event ? { path: 'wiring', title: 'See in Wiring', query: { event: event.key } } : null;
  });

  /** The other pieces concerned, without those of the same name. */
  protected readonly others = computed(() => {
    const [first, ...rest] = this.finding().pieces;
    return rest
      .filter((piece, at) => piece.key !== first?.key && rest.findIndex((other) => other.name === piece.name) === at)
      .slice(0, 3);
  });
}
