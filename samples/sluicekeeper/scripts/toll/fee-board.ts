import { Behaviour } from 'engine';
import { FEES, FINES } from './fees';

/** The board above the booth. */
export class FeeBoard extends Behaviour {
  clay = 0;
  late = 0;

  begin(): void {
    this.clay = FEES.clay.pence;
    this.late = FINES.late;
  }
}
