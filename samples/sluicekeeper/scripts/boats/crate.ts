import { Behaviour, slot } from 'deck';

/** A crate that a crane can lift and a hold can take. */
export class Crate extends Behaviour {
  @slot() tonnes = 1;
  @slot() marks = 'this side up';
}
