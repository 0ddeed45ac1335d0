import { Behaviour, bells, onScreen, slot } from 'deck';
import { LiftWinch } from './lift-winch';

/** The arm that falls on each player's own screen when the lift rests. */
@onScreen()
export class SignalArm extends Behaviour {
  @slot() winch!: LiftWinch;

  begin(): void {
    bells.hear('lift.rested', this.fall);
  }

  fall(): void {
    this.winch.stop();
  }
}
