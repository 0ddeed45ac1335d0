import { Behaviour, bells, slot, stage, type StageThing } from 'deck';

/** Lights the lamps at dusk. */
export class Lamplighter extends Behaviour {
  @slot() first!: StageThing;

  begin(): void {
    bells.hear('engine.dusk', this.light);
  }

  light(): void {
    this.first.show();
    for (const lamp of stage.labelled('lantern')) lamp.show();
    stage.enter('night-flight');
  }
}
