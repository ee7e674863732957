import type { CellState } from '../units/seen-codes';
import { CHARGED_BETWEEN, isTooColdOrHot } from './battery-cautions';
import { packState } from './cell-limits';

type WakeVerdict = 'no' | 'wait' | 'try' | 'not-needed';

export interface WakePlan {
	verdict: WakeVerdict;
	why: string;
	state: CellState;
	cellVolts: number;
	/** limits of the bench supply; null where it is not to be tried */
	supply: { volts: number; amps: number; seconds: number } | null;
	/** the other school beside waiting: a large pack lifted over its precharge limit by a bench supply; null where there is none */
	kick: { volts: number; amps: number; minutes: number } | null;
	cautions: string[];
}

/** Waking a cut-off pack: about 3 V a cell at 0.1 A for a few seconds. Common practice, no source. */
const WAKE = { voltsPerCell: 3, amps: 0.1, seconds: 10 };
/** Never above this share of the capacity in an hour. Common practice (C/20), no source. */
const WAKE_RATE = 0.05;

/** From here on a pack is large: its own precharge takes an hour or two. Choices. */
const LARGE = { cells: 2, capacityMah: 4000 };
/** A kick ends after so long, or when the pack has come over its precharge limit. Common practice, no source. */
const KICK_MINUTES = 20;

const ALWAYS = [
	'The cell maker’s data and local codes come first; the figures here are the trade’s usual ones.',
	'Current-limited, on a fireproof surface, watched all the time; stop at any warmth, smell or swelling.',
	'Check the polarity twice before the supply is switched on.'
];

/**
 * Whether a flat pack may be woken with a bench supply, within which limits.
 * @param seen what the eyes and the hand say of the pack
 */
export function wakePlan(pack: {
	packVolts: number;
	cells: number;
	chemistry: string | undefined;
	capacityMah: number;
	/** warmth of the cells, where it was measured */
	celsius?: number | undefined;
	seen: { swollen: boolean; punctured: boolean; hot: boolean; wet: boolean; longUnused: boolean };
}): WakePlan {
	const { state, cellVolts, limits } = packState(pack.packVolts, pack.cells, pack.chemistry);
	const answer = (verdict: WakeVerdict, reason: string, cautions: string[] = ALWAYS): WakePlan => ({
		verdict,
		why: reason,
		state,
		cellVolts,
		supply:
			verdict === 'try'
				? {
						volts: Math.min(WAKE.voltsPerCell, limits.precharge) * pack.cells,
						amps: Math.min(WAKE.amps, (WAKE_RATE * pack.capacityMah) / 1000),
						seconds: WAKE.seconds
					}
				: null,
		kick:
			verdict === 'wait' && (pack.cells >= LARGE.cells || pack.capacityMah >= LARGE.capacityMah)
				? {
						volts: limits.precharge * pack.cells,
						amps: (WAKE_RATE * pack.capacityMah) / 1000,
						minutes: KICK_MINUTES
					}
				: null,
		cautions
	});
	const { swollen, punctured, hot, wet } = pack.seen;
	const harmed = Object.entries({ swollen, punctured, hot, wet }).flatMap(([word, yes]) =>
		yes ? [word] : []
	);
	if (isTooColdOrHot(pack.celsius))
		return answer(
			'no',
			`The cells are at ${pack.celsius} °C: they are charged between ${CHARGED_BETWEEN.low} and ${CHARGED_BETWEEN.high} °C only.`,
			['Let it come to room temperature first; hot by itself, isolate it.', ...ALWAYS]
		);
	const away = ['Do not charge it. Isolate it, take it to a collection point.', ...ALWAYS.slice(0, 1)];
	if (harmed.length > 0) return answer('no', `The pack is ${harmed.join(' and ')}.`, away);
	if (state === 'reversed')
		return answer(
			'no',
			`A cell reads ${cellVolts.toFixed(2)} V: probes swapped, or driven under zero.`,
			away
		);
	if (state === 'over')
		return answer('no', `A cell reads ${cellVolts.toFixed(2)} V, over its full voltage.`, away);
	if (state === 'discard') {
		return answer(
			'no',
			`A cell reads ${cellVolts.toFixed(2)} V, under ${limits.discard} V: it may have plated copper and can short inside.`,
			away
		);
	}
	if (state === 'in-range' || state === 'full')
		return answer('not-needed', 'The pack is in its working range: charge it the usual way.');
	if (state === 'precharge')
		return answer('wait', 'The charger’s own precharge does this: plug in and wait, watching the current.');
	if (state === 'cut-off' && pack.seen.longUnused) {
		return answer(
			'try',
			`Unused for a long time and reads nothing: the cells may be low behind the protection. Measure at the cells first where they can be reached: under ${limits.discard} V a cell it goes to a collection point. Else a few watched seconds tell, before the board is condemned.`
		);
	}
	if (state === 'cut-off')
		return answer(
			'try',
			'Its protection has cut it off. A few seconds may wake it; measure again right after. If it falls back, do not repeat it.'
		);
	return answer(
		'wait',
		'Very low. Leave it to the device’s own precharge, supervised; a bench supply adds risk and nothing else.'
	);
}
