/** Plays scenes of the sample as hard as anybody could: waits, does all that can be done, and tells what failed. */
import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { createGame } from './game.mjs';

/** Frames in which nobody does anything: longer than any timer runs. */
const WAITED = 520;
const NUMBERS = [0, 1, 3, 14];

/**
 * @param {string} folder of the sample
 * @param {readonly string[]} [scenes] by their names; all of them unless given
 * @returns {AsyncGenerator<{ scene: string, failures: { place: string, source: string, message: string }[] }>} scene by scene
 */
export async function* tryAll(folder, scenes) {
  for (const name of readdirSync(join(folder, 'scenes'))) {
    if (scenes && !scenes.includes(name.split('.')[0])) continue;
    const failures = new Map();
    const play = createGame({
      folder,
      seed: 7,
      tell({ happening, source, place = '', data }) {
        if (happening !== 'failed') return;
        failures.set(`${place} ${source} ${data.message}`, { place, source, message: data.message });
      },
    });
    await play.start(`scenes/${name}`);
    for (let frame = 0; frame < WAITED; frame++) play.step({ plays: false });
    const [boat] = play.things().filter(({ labels }) => labels.includes('boat'));
    for (let round = 0; round < 3; round++) {
      for (const event of play.heard()) if (event.startsWith('engine.')) play.ring(event, boat);
      for (const part of play.parts())
        for (const asked of play.asked(part)) for (const number of NUMBERS) play.ask(part, asked, number);
    }
    // Scenes that were asked for are entered, and left alone.
    for (let frame = 0; frame < 5; frame++) play.step({ plays: false });
    play.end();
    yield { scene: name, failures: [...failures.values()] };
  }
}
