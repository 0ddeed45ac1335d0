import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import { mapWords } from '../shared/map-counts';
import { SentenceText } from '../shared/sentence';
import { TroubleBox } from '../shared/trouble';
import type { Trial } from './plan.state';
import { Waiting } from '../shared/waiting';

/** What the whole project would be with the plan that is being written. */
@Component({
  selector: 'glue-plan-trial',
  imports: [RouterLink, SentenceText, TroubleBox, Waiting],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>In the whole project</h2>
    @if (trial().trouble; as trouble) {
      <glue-trouble [trouble]="trouble" />
    } @else if (trial().result; as result) {
      @if (result.rule; as rule) {
        <p>
          <code>{{ called(rule.key) }}</code> finds <b>{{ places(rule.found) }}</b>
          @if (rule.found > 0) {
            in {{ rule.files === 1 ? '1 file' : rule.files + ' files' }}.
          }
          @if (rule.lost > 0) {
            <span class="error">{{ rule.lost === 1 ? '1 leads nowhere.' : rule.lost + ' lead nowhere.' }}</span>
          }
        </p>
        <ul>
          @for (place of rule.places; track place.file + place.range.line + ':' + place.range.column) {
            <li>
              <b>{{ place.text }}</b>
              @if (place.isLost) {
                <span class="error"> leads nowhere</span>
              } @else if (place.leads) {
                leads to <b>{{ place.leads }}</b>
              }
              <a class="dim" routerLink="./" [queryParams]="{ file: place.file }"
                >{{ place.file }}:{{ place.range.line }}</a
              >
            </li>
          }
        </ul>
      }
      <p role="status">{{ counts() }}</p>
      @for (some of changes(); track some.words) {
        <p>
          <b>{{ some.words }}</b>
        </p>
        <ul>
          @for (finding of some.first; track finding.fingerprint) {
            <li><glue-sentence [runs]="finding.sentence" [short]="true" /></li>
          }
        </ul>
      }
    } @else {
      <glue-waiting words="The plan is tried on all files" />
    }
  `,
  styles: `
    h2 {
      font-size: 14px;
      margin: 10px 0 4px;
    }
    p {
      margin: 4px 0;
      overflow-wrap: anywhere;
    }
    ul {
      margin: 0 0 6px;
      padding: 0;
      list-style: none;
    }
    li {
      padding: 3px 0;
      border-bottom: 1px solid color-mix(in srgb, var(--line) 60%, transparent);
      overflow-wrap: anywhere;
      a {
        display: block;
      }
    }
    .error {
      color: var(--brick);
    }
  `,
})
export class PlanTrialPane {
  readonly trial = input.required<Trial>();

  protected readonly counts = computed(() => {
    const result = this.trial().result;
    return result ? mapWords(result) : '';
  });

  protected readonly changes = computed(() => {
    const { come, go } = this.trial().result ?? {};
    return [
      ...(come && come.count > 0
        ? [{ words: come.count === 1 ? '1 finding comes' : `${come.count} findings come`, first: come.first }]
        : []),
      ...(go && go.count > 0
        ? [{ words: go.count === 1 ? '1 finding goes' : `${go.count} findings go`, first: go.first }]
        : []),
    ];
  });

  /** Rows of the call table are known by their patterns. */
  protected called(key: string): string {
    return key.replace(/^calls: /, '');
  }

  protected places(count: number): string {
    return count === 1 ? '1 place' : `${count === 0 ? 'no' : count} places`;
  }
}
