import type { Catalog } from '../../catalog/catalog';
import type { TestNeed } from '../../catalog/kinds-of-finding';
import type { StepCaution } from '../../units/seen-codes';
import type { DeviceState } from './device-state';
import { isInside } from './inside';
import type { First } from './plan-ahead';
import { addressed, answersTo, chanceIn, costHere, type PlanWorld, type State } from './plan-world';

/**
 * What a technician stands behind, beside what is cheapest: rules by which the ranked steps are put in order. None of them names a record of
 * the catalog: needs, cautions and what asks the same are its own words. Common practice, no source.
 */
export interface Bench {
	world: PlanWorld;
	start: State;
	device: DeviceState;
	/** operations that were tried in vain */
	failed: ReadonlySet<string>;
	/** the likeliest fault: its chance, and its place among the faults */
	lead: number;
	leading: number;
	/** a question that asks how the joints are */
	asksOfJoints: (question: string) => boolean;
	/** what giving up loses was said: then plain arithmetic decides what comes first, but for what may do harm */
	plain: boolean;
}

/** The measurement that is a look into the port. */
const LOOK = 'look';
/** A fault leads from here on: its repair may come before further tests. */
const LEADS = 0.5;
/** From here on nothing is tested before its repair. */
export const STANDS = 0.85;
/** A repair for less than this is none while anything else is left. */
const UNLIKELY = 0.1;

const needsOf = ({ step }: First): readonly TestNeed[] => (step.kind === 'operation' ? [] : step.needs);
const isPlugged = (first: First) => needsOf(first).includes('plugged');
const isWithin = (first: First) => isInside(needsOf(first));
const isRepair = ({ step }: First) => step.kind === 'operation' && !step.opens;

/** @param firsts cheapest first */
export function underRules(firsts: readonly First[], bench: Bench): First[] {
	const { device, plain } = bench;
	let steps = [...firsts];
	if (!plain) {
		steps = withoutUnlikelyRepairs(steps, bench);
		steps = whatConcernsTheLeader(steps, bench);
		steps = evidenceBeforeParts(repairOfWhatStands(steps, bench), bench);
		steps = jointsAfterFailure(steps, bench);
		steps = notTheSameAgain(steps, bench);
	}
	// a continuity check inside is never first on a closed device that nobody has looked at
	if (!device.looked && !device.opened && !device.attempted)
		steps = behindFirst(steps, isWithin, (first) => !isWithin(first));
	// a plug may short the supply: behind the repair
	if (device.mayShort) steps = behindFirst(steps, isPlugged, isRepair);
	return plain ? steps : lookFirst(steps, bench);
}

/** Puts some steps behind the first of others; to the end where there is none of these. */
function behindFirst(
	steps: readonly First[],
	moves: (first: First) => boolean,
	isAnchor: (first: First) => boolean
): First[] {
	const anchor = steps.findIndex(isAnchor);
	const ahead = steps.slice(0, anchor < 0 ? steps.length : anchor).filter(moves);
	if (ahead.length === 0) return [...steps];
	const movable = steps.filter((first) => !ahead.includes(first));
	const at = anchor < 0 ? movable.length : movable.findIndex(isAnchor) + 1;
	return [...movable.slice(0, at), ...ahead, ...movable.slice(at)];
}

const toFront = (steps: readonly First[], first: First): First[] => [
	first,
	...steps.filter((each) => each !== first)
];

function withoutUnlikelyRepairs(steps: readonly First[], { world, start }: Bench): First[] {
	const chance = ({ step }: First) => (step.kind === 'operation' && !step.opens ? addressed(start, step) : 1);
	const isLeft = steps.some((first) => chance(first) >= UNLIKELY);
	return isLeft && world.sets.length > 0 ? steps.filter((first) => chance(first) >= UNLIKELY) : [...steps];
}

/** A repair comes first only where its fault leads, or where it costs less than the test that would tell. */
function evidenceBeforeParts(steps: readonly First[], { world, start }: Bench): First[] {
	const [first] = steps;
	if (!first || first.step.kind !== 'operation' || first.step.opens) return [...steps];
	if (addressed(start, first.step) >= LEADS) return [...steps];
	const test = steps.find(({ step }) => step.kind !== 'operation');
	if (!test || first.step.costMinor < costHere(world, test.step).costMinor) return [...steps];
	return toFront(steps, test);
}

/** A test that moves the leading fault by less, on average, does not concern it. A choice. */
const CONCERNS = 0.05;

/** Where a fault leads, what has to do with it goes before looks at what is unlikely, cheap as they are. */
function whatConcernsTheLeader(steps: readonly First[], { world, start, lead, leading }: Bench): First[] {
	if (lead < LEADS) return [...steps];
	const priorChance = chanceIn(world, start, leading);
	const concerns = ({ step }: First): boolean =>
		step.kind === 'operation'
			? step.opens !== undefined || addressed(start, step) >= LEADS
			: answersTo(start, step).reduce(
					(sum, { chance, after }) => sum + chance * Math.abs(chanceIn(world, after, leading) - priorChance),
					0
				) >= CONCERNS;
	return behindFirst(steps, (first) => !concerns(first), concerns);
}

/** A soldered repair that failed: its joints are looked at before anything else is thought of. */
function jointsAfterFailure(steps: readonly First[], { device, asksOfJoints }: Bench): First[] {
	if (!device.jointsSuspect || device.jointsSeen) return [...steps];
	const joints = steps.find(({ step }) => step.kind !== 'operation' && asksOfJoints(step.question));
	return joints ? toFront(steps, joints) : [...steps];
}

/** What is found is repaired: no further test comes before it. */
function repairOfWhatStands(steps: readonly First[], { start, lead }: Bench): First[] {
	if (lead < STANDS) return [...steps];
	const repair = steps.find(
		(first) => isRepair(first) && first.step.kind === 'operation' && addressed(start, first.step) >= STANDS
	);
	return repair ? toFront(steps, repair) : [...steps];
}

/** What failed is not done again before its joints were looked at. */
function notTheSameAgain(steps: readonly First[], { device, failed }: Bench): First[] {
	if (device.jointsSeen) return [...steps];
	const isAgain = (first: First) => isRepair(first) && failed.has(first.step.code);
	return behindFirst(steps, isAgain, (first) => !isAgain(first));
}

/** Nobody looked, nothing was done: the look comes first, but for the work on a fault that is seen already. */
function lookFirst(steps: readonly First[], { device, lead }: Bench): First[] {
	if (device.looked || device.attempted || (device.seenWrong && lead >= LEADS)) return [...steps];
	const look = steps.find(({ step }) => step.kind === 'measure' && step.code === LOOK);
	return look ? toFront(steps, look) : [...steps];
}

/** What is to be heeded at a step, beside the words of the catalog. */
export const STEP_CAUTIONS: Readonly<Record<StepCaution, string>> = {
	'look-first': 'Nobody has looked into the port yet. Look before you plug anything in.',
	'may-short': 'A contact may short the supply. Do not plug in before the port is put right.',
	'battery-out': 'Battery out of the circuit first.',
	'live-board': 'The board is live: one slip of the probe shorts the supply to its neighbour.',
	'heat-spent':
		'This board had as much heat as a board takes. Let it go cold, and go on only where you must; the maker’s limits come first.',
	supervise: 'Stay with it. Stop when the pack swells or gets hot. The maker’s limits come first.'
};

/** Work that some way of doing it heats the board for. */
const isHot = ({ step }: First, { records }: Pick<Catalog, 'records'>): boolean =>
	step.kind === 'operation' &&
	[...records.procedure.values()].some(
		({ operation, retired, steps }) =>
			!retired && operation === step.code && steps.some(({ kind }) => kind === 'heat')
	);

/** @param batteryState as it was measured last */
export function cautionsAt(
	first: First,
	device: DeviceState,
	{ batteryState, catalog }: { batteryState: string | null; catalog: Pick<Catalog, 'records'> }
): StepCaution[] {
	const needs = needsOf(first);
	const isLow = batteryState === 'watch' || batteryState === 'cut-off';
	return [
		...(isPlugged(first) && !device.looked && !device.attempted ? (['look-first'] as const) : []),
		...(isPlugged(first) && device.mayShort ? (['may-short'] as const) : []),
		...(needs.includes('battery-out') ? (['battery-out'] as const) : []),
		...(isPlugged(first) && isWithin(first) ? (['live-board'] as const) : []),
		...(device.heatSpent && isHot(first, catalog) ? (['heat-spent'] as const) : []),
		...(isPlugged(first) && isLow ? (['supervise'] as const) : [])
	];
}
