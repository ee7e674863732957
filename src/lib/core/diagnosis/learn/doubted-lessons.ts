import { itemAt } from '../../units/vector';
import { sumOf } from '../../statistics/sum';
import { addLesson, inOrder, setKey, type Doubt, type Learned } from './learn';

/**
 * A device that comes back with another fault speaks against what was confirmed at first, as far as the data says. Either the
 * first confirmation was wrong and the fault that was found later was there all along, or it was right and the later fault is
 * new. Both explain that it came back; what was seen the first time tells them apart:
 *
 *   P(wrong) = ρ L(seen at first | later fault) / (ρ L(seen at first | later fault) + (1 - ρ) L(seen at first | first fault))
 *
 * ρ, the share of wrong confirmations among such comebacks, is learnt from all of them together (expectation and maximisation
 * of a mixture of two with known parts, Dempster, Laird & Rubin, JRSS B 39, 1977). Where the cause of a comeback says which of the two it
 * was, that holds, and teaches ρ. The same share of the first lesson then
 * counts for the later fault, and its repair as not tried on that.
 */

/** Before any comeback: so many of them, half of them wrong confirmations. A choice. */
const BEFORE = { share: 0.5, weight: 4 };
const ROUNDS = 20;
/** Answers under a fault lean on those of all tickets with so many. A choice. */
const LEAN = 4;

/** Chance that what was confirmed at first was wrong, for each comeback with another fault, in the order of `doubts`. */
export function chancesOfWrong(learned: Learned, doubts: readonly Doubt[]): number[] {
	const ratios = doubts.map((doubt) => likelihoodRatio(learned, doubt));
	const wrongAt = (share: number) =>
		ratios.map((ratio, i) => {
			const found = doubts[i]?.wrong;
			return found === undefined ? (share * ratio) / (share * ratio + 1 - share) : Number(found);
		});
	let share = BEFORE.share;
	for (let round = 0; round < ROUNDS; round++) {
		const wrong = sumOf(wrongAt(share));
		share = (BEFORE.share * BEFORE.weight + wrong) / (BEFORE.weight + ratios.length);
	}
	return wrongAt(share);
}

/**
 * The counts with what comebacks take back of first lessons; the same object where nothing came back with another fault.
 * Of several comebacks of one ticket each takes its share of what those before it left.
 */
export function withoutDoubted(learned: Learned): Learned {
	const doubts = [...learned.doubted.values()].map(([doubt]) => doubt);
	if (doubts.length === 0) return learned;
	const counted = inOrder(learned);
	const weights = new Map<string, number>();
	chancesOfWrong(learned, doubts).forEach((wrong, i) => {
		const { number, first, instead } = itemAt(doubts, i);
		const weight = weights.get(number) ?? 1;
		weights.set(number, weight * (1 - wrong));
		addLesson(counted, first, -weight * wrong);
		addLesson(counted, { ...first, faults: instead, tried: [] }, weight * wrong);
	});
	return counted;
}

/** How much likelier what was seen at first is under the later fault than under the one that was confirmed. */
function likelihoodRatio(learned: Learned, { first, instead }: Doubt): number {
	const { signs, answers } = first.features;
	const pieces = [
		...signs.map(([sign, present]) => {
			const counts = learned.signs.get(sign);
			const seenFor = (key: string): Seen => {
				const [agreeing, all] = counts?.get(key) ?? [0, 0];
				return { like: present ? agreeing : all - agreeing, all };
			};
			return { asked: seenFor, keys: [...(counts?.keys() ?? [])] };
		}),
		...answers.map(({ question, answer }) => {
			const counts = learned.answers.get(question);
			const seenFor = (key: string): Seen => {
				const count = counts?.get(key);
				return { like: count?.get(answer) ?? 0, all: sumOf([...(count?.values() ?? [])]) };
			};
			return { asked: seenFor, keys: [...(counts?.keys() ?? [])] };
		})
	];
	const ownKey = setKey(first.faults);
	return pieces.reduce((ratio, { asked: question, keys }) => {
		// the ticket must not speak for itself
		const seen = (key: string) => (key === ownKey ? withoutOne(question(key)) : question(key));
		const all = keys.map(seen);
		const usual =
			(sumOf(all.map(({ like: agreeing }) => agreeing)) + 0.5) / (sumOf(all.map((seen) => seen.all)) + 1);
		const chance = (faults: readonly string[]) => {
			const parts = [setKey(faults), ...(faults.length > 1 ? faults : [])].map(seen);
			const agreeing = sumOf(parts.map((seen) => seen.like));
			return (agreeing + LEAN * usual) / (sumOf(parts.map((seen) => seen.all)) + LEAN);
		};
		return ratio * (chance(instead) / chance(first.faults));
	}, 1);
}

interface Seen {
	/** tickets that answered alike */
	like: number;
	/** tickets that were asked */
	all: number;
}

const withoutOne = ({ like: agreeing, all }: Seen): Seen => ({
	like: Math.max(0, agreeing - 1),
	all: Math.max(0, all - 1)
});
