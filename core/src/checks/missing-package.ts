import { itemAt } from '../helpers/at.js';
import { sentence } from '../model/finding.js';
import { isEngines } from '../linking/losses.js';
import { nearest } from '../helpers/nearest.js';
import { satisfies } from '../linking/packages.js';
import type { Linked } from '../linking/linked.js';
import { writeInstead } from '../repairs/candidates.js';
import { faultsOf, placeOf, sameKey, titled, type Check, type Draft } from './check.js';

/** A package needs another one that is not there. */
export const missingPackage: Check = {
  id: 'broken/missing-package',
  title: 'A package that is needed is not there',
  severity: 'error',
  why: 'What the package takes from the other one is missing in play, or the package is not loaded at all.',
  decides:
    'The packages of the project are those whose manifests the plan reads; versions are compared as semantic versioning has them, and those that cannot be read so by their text. The house may name packages that must be there. Silent when one of them has the identity that is needed, and when the engine provides it.',
  run: (linked) => [...absent(linked), ...otherVersion(linked), ...ofTheHouse(linked)],
};

function absent({ plan, graph, lostReferences, packages }: Linked): Draft[] {
  return lostReferences
    .filter(({ loss }) => loss.sought === 'package' && !isEngines(plan.engine.ids, loss.wanted))
    .map(({ file, range, from, loss }) => {
      const close = nearest(
        loss.wanted,
        packages.map((one) => one.id),
        1,
      );
      return {
        sentence: [
          titled(graph, from),
          ...sentence` needs the package ${loss.wanted}, which the project does not have`,
          ...(close.length > 0 ? sentence`; there is ${itemAt(close, 0)}` : []),
        ],
        sure: 'The need is written in the manifest, and the manifests of all packages were read.',
        pieces: [from],
        evidence: [{ file, range, shows: 'the need' }, ...placeOf(graph, from, 'the package')].slice(0, 2),
        walk: [],
        places: 1,
        repairs: [
          ...close.map((id) =>
            writeInstead(file, range, loss.wanted, id, `“${id}” is there and is written almost the same.`),
          ),
          {
            title: 'Add the package or drop the need',
            words: 'Bring the package into the project, or take it out of the manifest if nothing uses it any more.',
          },
        ],
        sameBy: [sameKey(graph, from), loss.wanted],
      };
    });
}

function otherVersion(linked: Linked): Draft[] {
  const { graph } = linked;
  return faultsOf(linked, 'wrong version').map(({ file, range, from, needs, version, has }) => ({
    sentence: [
      titled(graph, from),
      ...sentence` needs ${needs} in version ${version}; the project has ${has || 'none that is named'}`,
    ],
    sure: has
      ? 'The need is written in the manifest, and the package’s version in its own.'
      : 'The need is written in the manifest, and the package names no version.',
    pieces: [from],
    evidence: [{ file, range, shows: 'the need' }, ...placeOf(graph, from, 'the package')].slice(0, 2),
    walk: [],
    places: 1,
    repairs: [
      {
        title: 'Bring another version',
        words: `Bring ${needs} in version ${version}, or lower the need if it will do.`,
      },
    ],
    sameBy: [sameKey(graph, from), needs, 'version'],
    cause: [needs, version],
  }));
}

/** Packages that must be there by a rule of the house. */
function ofTheHouse({ plan, packages, facts, world }: Linked): Draft[] {
  return plan.house.packages.flatMap(({ id, version }) => {
    const has = packages.find((one) => one.id === id);
    if (has && satisfies(has.version, version)) return [];
    const source = Math.max(
      0,
      facts.findIndex((fact) => fact.package && (fact.id === id || !has)),
    );
    const fact = itemAt(facts, source);
    if (!fact) return [];
    return [
      {
        sentence: has
          ? sentence`The house asks for ${id} in version ${version}; the project has ${has.version || 'none that is named'}`
          : sentence`The house asks for the package ${id}, which the project does not have`,
        sure: 'The package is named in the plan, and the manifests of all packages were read.',
        pieces: [itemAt(world.files.piece, source)],
        evidence: [
          { file: fact.file, range: fact.range, shows: has ? 'the package' : 'one of the packages that are there' },
        ],
        walk: [],
        places: 1,
        repairs: [
          {
            title: 'Add the package',
            words: 'Bring it into the project, or take it out of house.packages in the plan.',
          },
        ],
        sameBy: ['house', id],
      },
    ];
  });
}
