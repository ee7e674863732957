import type { Catalog } from '../../catalog/catalog';
import { expectationsOf } from '../../catalog/expectations';
import type { BoardPoint } from '../../catalog/kinds-of-devices';
import { POINT_VERDICTS, type PointVerdict } from '../../readings/board-points';
import { codeEntry } from '../../units/code';
import { pointOf } from '../../units/probed-place';
import type { Stated } from './answer-model';

/**
 * What a point reads on a board whose fault lies elsewhere, and under a fault that a bad reading here speaks for: at ground twenty times
 * as often, as it should half as often. Common practice, no source; low, high and open are choices.
 */
const USUAL: Record<PointVerdict, number> = {
	agrees: 0.86,
	value: 0.05,
	short: 0.015,
	open: 0.02,
	low: 0.03,
	high: 0.025
};
const NAMED: Record<PointVerdict, number> = {
	agrees: 0.43,
	value: 0.05,
	short: 0.3,
	open: 0.05,
	low: 0.1,
	high: 0.07
};
/** How many tickets the two are worth: what a point belongs to is known, what a board reads elsewhere is believed less. Choices. */
const NAMED_WEIGHT = 60;
const UNNAMED_WEIGHT = 20;

/** A word of a chip speaks for a fault that shows a test's outcome of that name so many times as often as usual. A choice. */
const SPEAKS = 5;
/** A fault shows a short where the catalog states it of so many devices that have it. A choice. */
const SHORTS = 0.5;

const stated = (chances: Record<PointVerdict, number>, weight: number): Stated => ({
	chances: POINT_VERDICTS.map((verdict) => chances[verdict]),
	weight
});

/**
 * What a bad reading at a point speaks for: the faults that it names; without, those of its chip's name (the fault's code, or an outcome
 * of a test that the fault shows), and those that the catalog states to short a line.
 */
export function faultsOfPoint(
	catalog: Catalog,
	{ faults, chip }: Pick<BoardPoint, 'faults' | 'chip'>
): string[] {
	if (faults) return [...faults];
	return [
		...new Set([...(chip === undefined ? [] : faultsOfChip(catalog, chip)), ...faultsThatShort(catalog)])
	];
}

function faultsOfChip(catalog: Catalog, chip: string): string[] {
	if (catalog.faults.has(chip)) return [chip];
	return [...catalog.tests.values()].flatMap(({ code, outcomes }) => {
		if (!outcomes.includes(chip)) return [];
		const { plain } = expectationsOf(catalog, code);
		const chanceOf = (fault: string | undefined) =>
			codeEntry(plain.find((each) => each.given === fault)?.outcomes ?? {}, chip) ?? 0;
		const usual = chanceOf(undefined);
		return [...catalog.faults.keys()].filter((fault) => {
			const chance = chanceOf(fault);
			return chance > 0 && chance >= SPEAKS * usual;
		});
	});
}

const shorting = new WeakMap<Catalog['expectations'], string[]>();

function faultsThatShort({ expectations, faults }: Catalog): string[] {
	const cached = shorting.get(expectations);
	if (cached) return cached;
	const found = [...faults.keys()].filter((fault) =>
		expectations.some(
			({ given, outcomes, where }) =>
				given === fault && !where && (codeEntry(outcomes ?? {}, 'short') ?? 0) >= SHORTS
		)
	);
	shorting.set(expectations, found);
	return found;
}

/**
 * What the models' boards say of a point before any ticket does. Where models differ in what a code stands for, as any of them has it.
 * @param question of a point, as in "point:c12"
 * @returns chances of POINT_VERDICTS under a fault, and without any; null where the question is of no point
 */
export function pointBeliefs(
	catalog: Catalog,
	question: string
): { underFault: (fault: string) => Stated; whole: Stated } | null {
	const code = pointOf(question);
	if (code === null) return null;
	const named = new Set(
		[...catalog.models.values()].flatMap(({ points = [] }) =>
			points.filter((point) => point.code === code).flatMap((point) => faultsOfPoint(catalog, point))
		)
	);
	const whole = stated(USUAL, UNNAMED_WEIGHT);
	const bad = stated(NAMED, NAMED_WEIGHT);
	return { whole, underFault: (fault) => (named.has(fault) ? bad : whole) };
}
