import { studentLogDensity } from '../statistics/student-t';
import type { Expected } from './expected';
import type { Mode } from './reference';

export const VERDICTS = ['agrees', 'short', 'open', 'low', 'high', 'no-reference'] as const;
export type Verdict = (typeof VERDICTS)[number];

/** A reading as the meter showed it: a value in the mode's unit, or overload. */
export interface Shown {
	value?: number | undefined;
	overload?: boolean | undefined;
}

/** Below this a diode-mode or ohms reading counts as a short. Common practice, no source. */
export const SHORT_BELOW: Record<Mode, number> = { diode: 0.05, ohms: 2, volts: 0.05 };

/** How sure a short is where nothing is known of the contact: few contacts are at ground by design. A choice. */
const SHORT_UNSEEN = 0.9;

/** Unpowered, ground reads (near) zero whatever the board. */
const GROUND_BY_DESIGN = ['gnd', 'shield', 'shell', 'chassis'];
const knownAsGround = (net: string, mode: Mode) => net === 'gnd' && mode !== 'volts';

/**
 * The verdict on one reading. Ground is known without a reference: it reads (near) zero. So is a short: any other contact
 * that reads ground, whatever a provisional reference of a board with a fault says.
 */
export function verdictOf(shown: Shown, mode: Mode, net: string, expected: Expected | null): Verdict {
	const shorted = !shown.overload && Math.abs(shown.value ?? 0) < SHORT_BELOW[mode];
	if (knownAsGround(net, mode)) return shorted ? 'agrees' : shown.overload ? 'open' : 'high';
	const unknown = !expected || (expected.grade === 'provisional' && expected.centre < SHORT_BELOW[mode]);
	const byDesign = mode === 'volts' || GROUND_BY_DESIGN.includes(net);
	if (shorted && unknown && !expected?.overload && !byDesign) return 'short';
	return expected ? compareWith(expected, shown, shorted, SHORT_BELOW[mode]) : 'no-reference';
}

/**
 * The verdict with how sure it is.
 * @returns confidence within 0..1; no reference has confidence 0.
 */
export function judgeReading(
	shown: Shown,
	mode: Mode,
	net: string,
	expected: Expected | null
): { verdict: Verdict; confidence: number } {
	const verdict = verdictOf(shown, mode, net, expected);
	if (knownAsGround(net, mode)) return { verdict, confidence: verdict === 'agrees' ? 0.99 : 0.95 };
	if (!expected) return { verdict, confidence: verdict === 'short' ? SHORT_UNSEEN : 0 };
	const sound = chanceSound(shown, mode, expected);
	return { verdict, confidence: Math.max(0.5, verdict === 'agrees' ? sound : 1 - sound) };
}

function compareWith(expected: Expected, shown: Shown, shorted: boolean, shortBelow: number): Verdict {
	if (expected.overload) return shown.overload ? 'agrees' : shorted ? 'short' : 'low';
	if (shown.overload) return 'open';
	const value = shown.value ?? 0;
	if (value >= expected.low && value <= expected.high) return 'agrees';
	if (shorted && expected.centre >= shortBelow) return 'short';
	return value < expected.low ? 'low' : 'high';
}

/** Choices: how often a contact that is looked at is not sound, and what an unsound one shows. */
const UNSOUND = 0.12;
const UNSOUND_SHOWS = { overload: 0.35, short: 0.25, value: 0.4 };
/** A sound contact that should read shows overload when the probe slips. */
const SLIP = 0.003;
/** A provisional reference may itself be of an unsound contact. */
const PROVISIONAL_WRONG = 0.1;

/**
 * Chance that the contact is sound: Bayes between the prediction for one more sound board (Student's t
 * around the centre) and an unsound contact's spread-out showing.
 */
function chanceSound(shown: Shown, mode: Mode, expected: Expected): number {
	const span = Math.max(2, 2 * expected.centre);
	const unsound = shown.overload
		? UNSOUND_SHOWS.overload
		: UNSOUND_SHOWS.value / span +
			(UNSOUND_SHOWS.short * Math.exp(-Math.abs(shown.value ?? 0) / (SHORT_BELOW[mode] / 4))) /
				(SHORT_BELOW[mode] / 4);
	const chance = bayes(soundDensity(shown, expected, span), unsound);
	const trust = expected.grade === 'verified' ? 1 : 1 - PROVISIONAL_WRONG;
	return trust * chance + (1 - trust) * 0.5;
}

function soundDensity(shown: Shown, expected: Expected, span: number): number {
	if (expected.overload) {
		// Laplace's rule: n boards that all showed overload leave 1 / (n + 2) for the next one to show a value
		const overload = (expected.from + 1) / (expected.from + 2);
		return shown.overload ? overload : (1 - overload) / span;
	}
	if (shown.overload) return SLIP;
	return (
		(1 - SLIP) *
		Math.exp(studentLogDensity((shown.value ?? 0) - expected.centre, expected.scale, expected.freedom))
	);
}

const bayes = (sound: number, unsound: number) =>
	((1 - UNSOUND) * sound) / ((1 - UNSOUND) * sound + UNSOUND * unsound);
