import { Behaviour, bells, slot, type StageThing } from 'deck';

/** What all boats do. */
export class Vessel extends Behaviour {
  @slot() helm!: StageThing;
  @slot() maxDraught = 1.4;

  protected draught = 0.6;

  begin(): void {
    bells.hear('level.reached', this.onLevel);
  }

  onLevel(level: number): void {
    if (level < this.draught) bells.ring('boat.aground', this);
  }

  load(tonnes: number): void {
    this.draught += tonnes / 100;
    if (this.draught > this.maxDraught) bells.ring('boat.overladen', this.draught);
  }
}
