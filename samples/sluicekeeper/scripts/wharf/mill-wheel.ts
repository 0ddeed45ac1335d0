import { Behaviour, bells, stage } from 'deck';

/** The mill's wheel turns while the weir lets water through. */
export class MillWheel extends Behaviour {
  private isTurning = false;

  begin(): void {
    bells.hear('level.reached', this.onLevel);
    bells.hear('orders.evening', this.stop);
  }

  onLevel(level: number): void {
    if (this.isTurning || level < 1) return;
    this.isTurning = true;
    bells.ring('mill.started', level);
  }

  stop(): void {
    this.isTurning = false;
    bells.ring('mill.stopped');
    stage.enter('aqueduct');
  }
}
