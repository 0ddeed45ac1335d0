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

  constructor() {
    effect(() => {
      const config = this.config();
      this.chart?.destroy();
      this.chart = new Chart(this.canvas().nativeElement, {
        ...config,
        options: { animation: false, maintainAspectRatio: false, ...config.options },
      });
    });
    inject(DestroyRef).onDestroy(() => this.chart?.destroy());
  }
}

/** A colour of the theme in force, e.g. `--brick`. */
export function colour(token: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(token).trim();
}
