/** All groups of twins, those that are likeliest to be wrong by now first. */
import { itemAt } from '../../helpers/at.js';
import { once } from '../../helpers/once.js';
import type { Linked } from '../../linking/linked.js';
import { assetTwinsOf } from '../../twins/assets.js';
import { brotherRulesOf, weightOf, type Rule } from '../../twins/rules.js';
import { repeatedTables } from '../../twins/tables.js';
import { twinsOf, twinsOfRule } from '../../twins/twins.js';
import { pastedWires, sameGraphs, sameWiring } from '../../twins/wiring.js';
import { assetView, tableView } from './asset-view.js';
import { codeView } from './code-view.js';
import { RISKS, type Entry } from './twin-view.js';
import { wiresView, graphsView, sameWiringView } from './wiring-view.js';

/** All groups: those that are likeliest to be wrong by now first, and of those alike in that what saves most. */
export const entriesOf = once((linked: Linked): Entry[] => {
  const code = twinsOf(linked);
  const told = new Set(code.flatMap(({ places }) => places.map(({ source, function: at }) => `${source} ${at}`)));
  const rules = brotherRulesOf(linked).filter(
    ({ holders }) => !holders.every(({ type, function: at }) => told.has(`${type.source} ${at}`)),
  );
  const ready = [
    ...code.map((twins) => codeView(linked, twins)),
    ...assetTwinsOf(linked).map((twins) => assetView(linked, twins)),
    ...pastedWires(linked).map((wires) => wiresView(linked, wires)),
    ...sameGraphs(linked).map((graphs) => graphsView(linked, graphs)),
    ...sameWiring(linked).map((same) => sameWiringView(linked, same)),
    ...repeatedTables(linked).map((table) => tableView(linked, table)),
  ];
  const entries = [
    ...ready.map((view): Entry => ({ ...view, view: () => view })),
    // There may be thousands: they are laid beside each other when they are looked at.
    ...rules.map((rule): Entry => ruleEntry(linked, rule)),
  ];
  entries.sort((a, b) => RISKS.indexOf(a.risk) - RISKS.indexOf(b.risk) || b.saves - a.saves);
  return entries;
});

function ruleEntry(linked: Linked, rule: Rule): Entry {
  return {
    kind: 'code',
    risk: rule.differs.length > 0 ? 'values differ' : 'the same',
    saves: weightOf(itemAt(rule.holders, 0).body) * (rule.holders.length - 1),
    places: rule.holders.map(({ type }) => ({
      name: `${type.name}.${rule.name}()`,
      file: itemAt(linked.facts, type.source).file,
    })),
    view: () => codeView(linked, twinsOfRule(linked, rule)),
  };
}
