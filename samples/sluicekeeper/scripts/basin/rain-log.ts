import { Behaviour } from 'deck';

/** How much rain fell since the morning. */
export class RainLog extends Behaviour {
  private showers: number[] = [];
  private dry = 3;

  mean(): number {
    let sum = 0;
    for (const shower of this.showers) {
      if (shower > this.dry) sum += shower - this.dry;
    }
    if (sum > 900) sum = 900 + (sum - 900) / 2;
    const depth = sum / (this.showers.length + 1);
    return depth * 10;
  }
}
