import { Behaviour, bells, slot, type StageThing } from 'deck';

/** A pair of leaves that swings open when both levels are equal. */
export class Gate extends Behaviour {
  @slot() leftLeaf!: StageThing;
  @slot() rightLeaf!: StageThing;
  @slot() lamp?: StageThing;

  private held = false;

  begin(): void {
    bells.hear('gate.hold', this.hold);
  }

  open(): void {
    if (this.held) return;
    this.leftLeaf.turn(70);
    this.rightLeaf.turn(-70);
    this.lamp?.show();
  }

  hold(): void {
    this.held = true;
  }
}
