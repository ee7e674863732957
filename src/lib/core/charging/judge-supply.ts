import type { SUPPLY_VERDICTS, SupplyFeed } from '../units/seen-codes';

export type SupplyVerdict = (typeof SUPPLY_VERDICTS)[number];

/**
 * What a bench supply instead of the battery shows while a device is started. Bounds are common practice, no source: below 5 mA
 * nothing wakes; over 1.5 A before anything runs is a short; a jump and back is a board that tries and gives up; a steady climb is
 * one that starts.
 */
const NOTHING_AMPS = 0.005;
const SHORT_AMPS = 1.5;
/** A jump is so many times what was drawn before it; back is within a quarter of it. A choice. */
const JUMP = 2;
const BACK = 0.25;

export const SUPPLY_WORDS: Record<SupplyVerdict, string> = {
	nothing: 'nothing is drawn',
	short: 'a short: it draws before anything runs',
	'jump-and-back': 'jumps and falls back: it responds, and stops for lack of a battery',
	'steady-climb': 'climbs steadily: it starts',
	hangs: 'stays at a small current: it wakes and does not start',
	cycles: 'jumps and falls back again and again: it starts over'
};

/** So many jumps with a fall between them are a device that starts over. A choice. */
const CYCLES = 2;

/** How often the current rises over a jump after it lay low. */
function jumpsOf(amps: readonly number[], low: number, high: number): number {
	let [jumps, isLow] = [0, true];
	for (const now of amps) {
		if (isLow && now >= high && now > low) [jumps, isLow] = [jumps + 1, false];
		else if (!isLow && now <= low) isLow = true;
	}
	return jumps;
}

/**
 * @param amps two or more looks, in the order of time
 * @example judgeSupply([0.02, 0.18, 0.03]) // 'jump-and-back'
 */
export function judgeSupply(amps: readonly number[]): SupplyVerdict {
	const maxAmps = Math.max(...amps);
	const [first = 0, last = 0] = [amps[0], amps.at(-1)];
	if (maxAmps < NOTHING_AMPS) return 'nothing';
	if (first >= SHORT_AMPS) return 'short';
	const minAmps = Math.max(first, NOTHING_AMPS);
	if (jumpsOf(amps, minAmps + (maxAmps - minAmps) * BACK, minAmps * JUMP) >= CYCLES) return 'cycles';
	const jumped = maxAmps >= minAmps * JUMP;
	if (jumped && last <= minAmps + (maxAmps - minAmps) * BACK) return 'jump-and-back';
	const climbs = amps.every((now, i) => i === 0 || now >= (amps[i - 1] as number) * 0.9);
	return jumped && climbs ? 'steady-climb' : 'hangs';
}

/** A look through the supply, as it is judged beside the others. */
export interface SupplyLook {
	amps: readonly number[];
	orientation?: 'a' | 'b' | undefined;
	/** at the port without */
	fed?: SupplyFeed | undefined;
}
export interface SupplyFinding {
	kind: SupplyVerdict;
	/** true: as it should be; false: nothing answers, or a short; null: it says nothing by itself */
	good: boolean | null;
}

const ANSWERS: readonly SupplyVerdict[] = ['jump-and-back', 'steady-climb'];

/**
 * Looks through a bench supply, each with whether it is a good sign: a climb is; a jump and back is where both sides show it, or where there
 * are no sides. In place of the battery a jump and back alone says little. Common practice, no source.
 */
export function judgeSupplies(looks: readonly SupplyLook[]): { looks: SupplyFinding[]; bothSides: boolean } {
	const kinds = looks.map(({ amps }) => judgeSupply(amps));
	const answers = (side: 'a' | 'b') =>
		looks.some(
			({ orientation, fed }, i) =>
				orientation === side && fed !== 'battery' && ANSWERS.includes(kinds[i] as SupplyVerdict)
		);
	const bothSides = answers('a') && answers('b');
	const goodness = (kind: SupplyVerdict, { orientation, fed }: SupplyLook) => {
		if (kind === 'steady-climb') return true;
		if (kind === 'nothing' || kind === 'short') return false;
		if (kind !== 'jump-and-back' || fed === 'battery') return null;
		return bothSides || orientation === undefined ? true : null;
	};
	return {
		looks: looks.map((look, i) => {
			const kind = kinds[i] as SupplyVerdict;
			return { kind, good: goodness(kind, look) };
		}),
		bothSides
	};
}
