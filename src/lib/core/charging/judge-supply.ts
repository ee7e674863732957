export const SUPPLY_VERDICTS = ['nothing', 'short', 'jump-and-back', 'steady-climb', 'stands-still'] as const;
export type SupplyVerdict = (typeof SUPPLY_VERDICTS)[number];

/**
 * What a bench supply in place of the battery shows while a device is started. Bounds are common practice, no source: below 5 mA
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
	'jump-and-back': 'jumps and falls back: it tries and gives up',
	'steady-climb': 'climbs steadily: it starts',
	'stands-still': 'stands still: it wakes and does not go on'
};

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
	const jumped = maxAmps >= minAmps * JUMP;
	if (jumped && last <= minAmps + (maxAmps - minAmps) * BACK) return 'jump-and-back';
	const climbs = amps.every((now, i) => i === 0 || now >= (amps[i - 1] as number) * 0.9);
	return jumped && climbs ? 'steady-climb' : 'stands-still';
}
