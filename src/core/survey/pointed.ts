/** From where the developer points to a finding: one component of all places, with the names and slots that were asked for. */
import { Problem } from '../errors.js';
import { refuseComponentName } from '../component/names.js';
import { nameComponent } from './component-names.js';
import { generalise, type Generalising } from '../template/generalise.js';
import type { General, Value } from '../template/pattern.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { placeAt } from '../page/parse.js';
import { selectIn } from '../page/select.js';
import type { Element } from '../page/tree.js';
import { findingFor } from './findings.js';
import type { Finding } from './types.js';
import { single } from './single.js';
import { namesHint, type Pointed, refuseDeepPlaces, refuseNames, textOf, type Wishes } from './wishes.js';

/**
 * Makes one component of all places.
 * @throws Problem (exit 2) where they are not alike, or a wish cannot be met
 */
export function pointedFinding(
  occurrences: Occurrence[],
  wishes: Wishes,
  options: Generalising,
  taken: ReadonlySet<string>,
): Pointed {
  const poured = pouredIn(occurrences, wishes.slots);
  const generalising = poured.size === 0 ? options : { ...options, poured };
  let kept = occurrences;
  let nameable: Pointed['nameable'] = [];
  let general: General;
  if (occurrences.length === 1) ({ general, nameable } = single(occurrences[0]!, wishes, generalising));
  else {
    general = several(kept, generalising);
    for (const name of wishes.fixed) {
      const { values } = propOf(general, name, '--fixed');
      const [first] = values;
      const same = values.map((value) => textOf(value) === textOf(first!));
      kept = general.occurrences.filter((_, i) => same[i]);
      general =
        kept.length === 1
          ? single(kept[0]!, { ...wishes, fixed: [] }, generalising).general
          : several(kept, generalising);
    }
    const props = [...wishes.props].map(([from, to]) => ({ prop: propOf(general, from, '--props'), to }));
    for (const { prop, to } of props) prop.name = to;
    refuseNames(
      general.props.map((prop) => prop.name),
      props.map(({ to }) => to),
    );
  }
  const filled = new Set(general.slots.flatMap(({ nodes }) => nodes));
  if ([...poured].some((element) => isWithin(element, kept) && !filled.has(element))) {
    const { page, element } = occurrences[0]!;
    throw new Problem(`no slot can stand for "${wishes.slots.join('", "')}" here`, {
      place: placeAt(page, element.start),
      hint: 'in a table, a select or a drawing the parser leaves no room for one; pour in what is around it',
    });
  }
  const name = wishes.name ?? nameComponent(occurrences, taken, options.vocabulary);
  if (name === undefined)
    throw new Problem('no words tell this from what is there already', { hint: 'give it a name with --name' });
  refuseComponentName(name, taken, 'choose another one with --name');
  return { finding: findingFor(name, general), nameable, leftOut: occurrences.filter((each) => !kept.includes(each)) };
}

/**
 * A finding as it is wished for: under another name, with other names of its props. With slots or fixed props, and where
 * a single place names the texts that become props, it is made anew from its places.
 * @param taken names that it may not have
 * @throws Problem (exit 2) where a wish cannot be met
 */
export function wishedFinding(
  finding: Finding,
  wishes: Wishes,
  options: Generalising,
  taken: ReadonlySet<string>,
): Pick<Pointed, 'finding' | 'leftOut'> {
  const { occurrences, component, general } = finding;
  if (component !== null || general === null)
    throw new Problem(`${finding.name} is a component already`, {
      hint: `estrade rename ${finding.name} and ${finding.name}.<prop> give other names to it and its props`,
    });
  const name = wishes.name ?? finding.name;
  const own = (option: string) => (from: string) => ownProp(finding, general, from, option);
  const renamed = [...wishes.props].map(([from, to]) => ({ ...own('--props')(from), to }));
  const renames = new Map(renamed.map(({ shown, to }) => [shown, to]));
  refuseNames(
    finding.props.map((prop) => renames.get(prop.name) ?? prop.name),
    renames.values(),
  );
  const fixed = wishes.fixed.map((each) => own('--fixed')(each).plain);
  if (wishes.slots.length + fixed.length > 0 || (occurrences.length === 1 && wishes.props.size > 0)) {
    const props = new Map(renamed.map(({ plain, to }) => [plain, to]));
    const made = pointedFinding(occurrences, { ...wishes, props, fixed, name }, options, taken);
    const { recommended, reason, terms } = finding;
    return { ...made, finding: { ...made.finding, renames, recommended, reason, terms } };
  }
  refuseComponentName(name, taken, 'choose another one with --name');
  const props = renamed.map(({ plain, to }) => ({ prop: propOf(general, plain, '--props'), to }));
  for (const { prop, to } of props) prop.name = to;
  const { file, uses, props: named } = findingFor(name, general, options.keeping);
  return { finding: { ...finding, name, renames, file, uses, props: named }, leftOut: [] };
}

/**
 * What a prop is called where other components stand in the template, as it is shown, and where it stands by itself; the
 * values tell that they are one.
 */
function ownProp(
  { props, occurrences }: Finding,
  general: General,
  name: string,
  option: string,
): { shown: string; plain: string } {
  // of a single place, texts are named that are no props yet
  if (occurrences.length === 1) return { shown: name, plain: name };
  const valuesOf = ({ values }: { values: (Value | null)[] }) => JSON.stringify(values);
  const [shown, plain] = [props, general.props].map((all) => all.find((prop) => prop.name === name));
  const known = shown ?? plain;
  if (known === undefined)
    throw new Problem(`${option}: there is no prop "${name}"`, { hint: namesHint(props.map((prop) => prop.name)) });
  const twinIn = (all: { name: string; values: (Value | null)[] }[]) =>
    (
      all.find((prop) => prop.name === name && valuesOf(prop) === valuesOf(known)) ??
      all.find((prop) => valuesOf(prop) === valuesOf(known)) ??
      known
    ).name;
  return { shown: shown?.name ?? twinIn(props), plain: twinIn(general.props) };
}

/** True for what stands in one of the occurrences. */
function isWithin({ start, end }: Element, occurrences: Occurrence[]): boolean {
  return occurrences.some(({ element }) => element.start <= start && end <= element.end);
}

/** The elements that the selectors match inside the occurrences. @throws Problem where one matches nothing */
function pouredIn(occurrences: Occurrence[], selectors: string[]): Set<Element> {
  const poured = new Set<Element>();
  for (const selector of selectors) {
    const found = occurrences.flatMap(({ element }) => selectIn(element, selector));
    if (found.length === 0)
      throw new Problem(`"${selector}" matches nothing inside of what is pointed at`, {
        hint: 'the selector is matched below the root of the component',
      });
    for (const each of found) poured.add(each);
  }
  return poured;
}

function several(occurrences: Occurrence[], options: Generalising): General {
  const general = generalise(occurrences, options) ?? generalise(occurrences, { ...options, maxProps: Infinity });
  if (general !== null) return general;
  refuseDeepPlaces(occurrences);
  const odd = occurrences.find(({ element }) => element.tag !== occurrences[0]!.element.tag) ?? occurrences[1]!;
  throw new Problem('these places are not alike: no one template can be written for them', {
    place: placeAt(odd.page, odd.element.start),
    hint: 'point at fewer of them',
  });
}

function propOf(general: General, name: string, option: string): General['props'][number] {
  const found = general.props.find((prop) => prop.name === name);
  if (found !== undefined) return found;
  throw new Problem(`${option}: there is no prop "${name}"`, {
    hint: namesHint(general.props.map((prop) => prop.name)),
  });
}
