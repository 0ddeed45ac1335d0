import { itemAt } from '@glue-trace/core/browser';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

interface ShownFile {
  name: string;
  lines: { text: string; kind: 'added' | 'removed' | 'place' | '' }[];
}

/** A unified diff, file by file. */
@Component({
  selector: 'glue-patch',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (file of files(); track file.name) {
      <div class="mono name">{{ file.name }}</div>
      <pre tabindex="0" [attr.aria-label]="'Changes of ' + file.name">
@for (line of file.lines; track $index) {<span [class]="line.kind">{{ line.text }}
</span>}</pre>
    }
  `,
  styles: `
    :host {
      display: block;
    }
    .name {
      font-weight: 600;
      overflow-wrap: anywhere;
    }
    pre {
      max-height: 320px;
      overflow: auto;
      margin: 2px 0 8px;
      padding: 6px 0;
      font: var(--mono);
      background: var(--well);
      border-radius: 6px;
    }
    span {
      display: block;
      width: max-content;
      min-width: 100%;
      padding: 0 10px;
      box-sizing: border-box;
    }
    .added {
      background: var(--moss-bg);
    }
    .removed {
      background: var(--brick-bg);
    }
    .place {
      color: var(--ink2);
    }
  `,
})
export class PatchView {
  readonly patch = input.required<string>();

  protected readonly files = computed(() =>
    this.patch()
      .split(/^diff --git /m)
      .slice(1)
      .map((text): ShownFile => {
        const [, , target = '', ...lines] = text.replace(/\n$/, '').split('\n');
        return {
          name: target.replace(/^\+\+\+ "?b\//, '').replace(/"$/, ''),
          lines: lines.map((line) => ({
            text: line.replace(/^@@.*\+(\d+).*@@.*$/, 'line $1'),
            kind: KINDS[itemAt(line, 0)] ?? '',
          })),
        };
      }),
  );
}

const KINDS: Partial<Record<string, ShownFile['lines'][number]['kind']>> = {
  '+': 'added',
  '-': 'removed',
  '@': 'place',
  '\\': 'place',
};
