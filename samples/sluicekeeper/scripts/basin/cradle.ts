import { Behaviour, spawnFrom } from 'deck';

/** Carries a boat up and down, and marks the place it left with a buoy. */
export class Cradle extends Behaviour {
  begin(): void {
    spawnFrom('prefabs/buoy.prefab.json', this.object);
  }

  everyFrame(): void {
    this.object.moveTo(3);
  }
}
