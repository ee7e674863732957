import { itemAt } from '../units/vector';
import {
	amperes,
	isSoundDraw,
	judgePlugIn,
	NOTHING_AMPS,
	SETTLED_SECONDS,
	type PlugContext,
	type PlugMoment,
	type PlugVerdict
} from './judge-plug-in';

/** A look with what tells whether another was taken under like conditions. */
export interface PlugLook extends PlugMoment {
	/** when it was taken */
	at?: number | undefined;
	stage?: string | undefined;
}

/** Looks further apart than this may differ by the battery that filled meanwhile, milliseconds and seconds. A choice. */
const LIKE_MS = 30 * 60_000;
const LIKE_SECONDS = 10 * 60;
/** One side has less than this share of the other's power: half of the contacts do not carry it. Common practice, no source. */
const ONE_SIDE_SHARE = 0.15;

/**
 * What several looks say together: one way round only, pulsing. Empty where they say nothing more than each. Compared is
 * only what was taken under like conditions: within half an hour, switched on or not alike, and by the power, since two
 * contracts of equal power are equally good.
 * @param contextOf what a look is judged with; a side whose little is explained (full, tapering, precharge) is no dead side
 */
export function judgeLooks(
	looks: readonly PlugLook[],
	contextOf: (look: PlugLook) => PlugContext
): PlugVerdict[] {
	const settled = looks.filter(
		({ orientation, seconds }) => orientation && (seconds === undefined || seconds >= SETTLED_SECONDS)
	);
	const one = oneSide(settled, contextOf);
	return [...(one ? [one] : []), ...(['a', 'b'] as const).flatMap((side) => pulsingSide(settled, side))];
}

const watts = ({ volts, amps }: PlugMoment) => Math.abs(volts * amps);

function alike(a: PlugLook, b: PlugLook): boolean {
	const nearby =
		a.at !== undefined && b.at !== undefined ? Math.abs(a.at - b.at) <= LIKE_MS : a.stage === b.stage;
	return nearby && (a.on ?? false) === (b.on ?? false);
}

/** The clearest pair of looks of which one side carries and the other does not, unless that side carried under like conditions. */
function oneSide(
	settled: readonly PlugLook[],
	contextOf: (look: PlugLook) => PlugContext
): PlugVerdict | null {
	const carries = settled.filter(({ amps }) => Math.abs(amps) > 0.05);
	for (const look of [...carries].sort((a, b) => watts(b) - watts(a))) {
		const otherLooks = settled.filter(
			(otherLook) => otherLook.orientation !== look.orientation && alike(look, otherLook)
		);
		const best = otherLooks.reduce<PlugLook | null>(
			(best, candidate) => (best && watts(best) >= watts(candidate) ? best : candidate),
			null
		);
		if (!best || (Math.abs(best.amps) >= NOTHING_AMPS && watts(best) >= ONE_SIDE_SHARE * watts(look)))
			continue;
		if (isSoundDraw(judgePlugIn(best, contextOf(best)).kind)) continue;
		const side = look.orientation?.toUpperCase();
		return {
			kind: 'one-side',
			reason: `Side ${side} takes ${amperes(Math.abs(look.amps))}, the other ${amperes(Math.abs(best.amps))}: half of the contacts do not reach the board.`,
			open: 'A broken configuration line, its joint or its trace; the plug’s own contacts: try another cable.'
		};
	}
	return null;
}

function pulsingSide(settled: readonly PlugLook[], side: 'a' | 'b'): PlugVerdict[] {
	const looks = settled.filter(({ orientation }) => orientation === side);
	for (let from = 0, to = 0; from < looks.length; from++) {
		while (to < looks.length && soonAfter(itemAt(looks, from), itemAt(looks, to))) to++;
		const pulses = pulsing(looks.slice(from, to).map(({ amps }) => Math.abs(amps)));
		if (!pulses) continue;
		return [
			{
				kind: 'pulsing',
				reason: `Side ${side.toUpperCase()} goes between ${amperes(pulses.low)} and ${amperes(pulses.high)}, ${pulses.turns} turns.`,
				open: 'A device that starts and falls back for want of battery, a protection that trips, a contact that opens under load.'
			}
		];
	}
	return [];
}

/** A pulse goes by within minutes; over a whole charge the current rises and falls by itself. */
function soonAfter(first: PlugLook, look: PlugLook): boolean {
	const seconds = Math.abs((look.seconds ?? 0) - (first.seconds ?? 0));
	const timed = look.seconds !== undefined && first.seconds !== undefined;
	const stamped = look.at !== undefined && first.at !== undefined;
	return (
		(!timed || seconds <= LIKE_SECONDS) && (!stamped || Math.abs(look.at! - first.at!) <= LIKE_SECONDS * 1000)
	);
}

/** At least two turns between under a third and over two thirds of the highest. Common practice, no source. */
function pulsing(amps: readonly number[]): { low: number; high: number; turns: number } | null {
	const high = Math.max(...amps, 0);
	if (amps.length < 3 || high < 0.05) return null;
	const states = amps.flatMap((value) =>
		value < high / 3 ? ['low'] : value > (2 * high) / 3 ? ['high'] : []
	);
	const turns = states.filter((state, i) => i > 0 && state !== states[i - 1]).length;
	return turns >= 2 ? { low: Math.min(...amps), high, turns } : null;
}
