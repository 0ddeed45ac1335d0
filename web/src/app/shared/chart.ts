import {
  ChangeDetectionStrategy,
  Component,
  DestroyRef,
  effect,
  inject,
  input,
  viewChild,
  type ElementRef,
} from '@angular/core';
import {
  BarController,
  BarElement,
  CategoryScale,
  Chart,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
  type ChartConfiguration,
} from 'chart.js';

Chart.register(
  BarController,
  BarElement,
  CategoryScale,
  LinearScale,
  LineController,
  LineElement,
  PointElement,
  Tooltip,
);

/** A chart with the words that say the same for those who do not see it. */
@Component({
  selector: 'glue-chart',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas #canvas role="img" [attr.aria-label]="words()"></canvas>`,
  styles: `
    :host {
      display: block;
      position: relative;
      height: 120px;
    }
  `,
})
export class ChartView {
  readonly config = input.required<ChartConfiguration>();
  readonly words = input.required<string>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');
  private chart?: Chart;
  private type?: ChartConfiguration['type'];

  constructor() {
    effect(() => {
      const config = this.config();
      const options = { animation: false, maintainAspectRatio: false, ...config.options } as const;
      if (this.chart && this.type === config.type) {
        // What changes often is drawn into the same chart.
        this.chart.data = config.data;
        this.chart.options = options;
        return this.chart.update('none');
      }
      this.chart?.destroy();
      this.type = config.type;
      this.chart = new Chart(this.canvas().nativeElement, { ...config, options });
    });
    inject(DestroyRef).onDestroy(() => this.chart?.destroy());
  }
}

/** A colour of the theme in force, e.g. `--brick`. */
export function colour(token: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(token).trim();
}
