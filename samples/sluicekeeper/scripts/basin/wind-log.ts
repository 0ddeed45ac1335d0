import { Behaviour } from 'deck';

/** How hard the wind blew since the morning. */
export class WindLog extends Behaviour {
  private gusts: number[] = [];
  private calm = 3;

  mean(): number {
    let sum = 0;
    for (const gust of this.gusts) {
      if (gust > this.calm) sum += gust - this.calm;
    }
    if (sum > 900) sum = 900 + (sum - 900) / 2;
    const strength = sum / (this.gusts.length + 1);
    return strength * 10;
  }
}
