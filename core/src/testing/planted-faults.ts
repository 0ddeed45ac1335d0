/** What the sample is made to hold, as its README says it: specs of all parts compare with it. */
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

const README = fileURLToPath(new URL('../../../samples/sluicekeeper/README.md', import.meta.url));

export interface PlantedFaults {
  /** Each row of the table, as `check file:line`. */
  faults: string[];
  /** What Readiness says of it. */
  verdict: string;
  /** How many things will fail, of that, and how many errors there are with those against a rule of the house. */
  failing: number;
  errors: number;
}

/** Reads the table of planted faults. */
export function plantedFaults(): PlantedFaults {
  const text = readFileSync(README, 'utf8');
  const rows = text.matchAll(/^\| `([^`]+)`\s+\| `([^`]+)`\s+\|/gm);
  const [, verdict = '', failing, house] =
    /“(Not ready to play: (\d+) things will fail, and (\d+) break a rule of the house)”/.exec(text) ?? [];
  return {
    faults: [...rows].map(([, check, place]) => `${check} ${place}`),
    verdict,
    failing: Number(failing),
    errors: Number(failing) + Number(house),
  };
}
