import { indexAt, itemAt } from '../units/vector';
import { RETURN_KINDS, type FollowedJob, type ReturnKind } from './followed-jobs';

/** The shop as a whole is the first level: every job has it, and its prior is next to flat. */
export const SHOP = 'shop';
export type LevelKind = ReturnKind | typeof SHOP;

/** What jobs are told apart by, numbered: every operation, part, lot, source, technician, model and procedure is a level of its kind. */
export interface EffectLevels {
	kinds: LevelKind[];
	names: string[];
	/** of each job, the numbers of its levels */
	rows: Int32Array[];
	/** of each job, the places of its levels in the joint block, in their order, and of those that are eliminated from it */
	joint: Int32Array[];
	eliminated: Int32Array[];
	/** jobs of each level */
	jobs: number[];
	/** place in the joint block, or -1 - the place among the eliminated ones */
	place: Int32Array;
	jointCount: number;
	eliminatedCount: number;
	cross: CrossTerms;
}

/** Where the cross block of the information is not nothing: which eliminated levels meet which joint ones in a job. */
interface CrossTerms {
	/** of each eliminated level, the places of the joint ones that it meets, in their order */
	at: Int32Array[];
	/** where its first entry stands in the cross block, and their number at the end */
	from: Int32Array;
	/** of each job: for every eliminated level, for every joint one, where their entry stands */
	of: Int32Array[];
}

/** The joint block has so many levels at most; a choice that bounds the work. */
const MOST_JOINT = 700;

export function effectLevels(jobs: readonly FollowedJob[]): EffectLevels {
	const numbers = new Map<string, number>();
	const kinds: LevelKind[] = [SHOP];
	const names: string[] = [SHOP];
	const counts: number[] = [jobs.length];
	const rows = jobs.map(({ levels }) => {
		const row: number[] = [0];
		for (const kind of RETURN_KINDS) {
			for (const name of new Set(levels[kind])) {
				const key = `${kind} ${name}`;
				let at = numbers.get(key);
				if (at === undefined) {
					at = names.length;
					numbers.set(key, at);
					kinds.push(kind);
					names.push(name);
					counts.push(0);
				}
				counts[at] = (counts[at] as number) + 1;
				row.push(at);
			}
		}
		return Int32Array.from(row);
	});
	const placed = places(kinds);
	const { place } = placed;
	const jointRows = rows.map((row) =>
		row
			.map((a) => indexAt(place, a))
			.filter((p) => p >= 0)
			.sort()
	);
	const eliminatedRows = rows.map((row) => row.map((a) => -1 - indexAt(place, a)).filter((k) => k >= 0));
	const cross = crossTermsOf(jointRows, eliminatedRows, placed.eliminatedCount);
	return { kinds, names, rows, joint: jointRows, eliminated: eliminatedRows, jobs: counts, ...placed, cross };
}

function crossTermsOf(
	jointRows: readonly Int32Array[],
	eliminatedRows: readonly Int32Array[],
	eliminatedCount: number
): CrossTerms {
	const met = Array.from({ length: eliminatedCount }, () => new Set<number>());
	eliminatedRows.forEach((lots, i) => {
		for (const k of lots) for (const p of itemAt(jointRows, i)) met[k]?.add(p);
	});
	const at = met.map((rows) => Int32Array.from(rows).sort());
	const from = new Int32Array(eliminatedCount + 1);
	at.forEach(({ length }, k) => (from[k + 1] = indexAt(from, k) + length));
	const rank = at.map((rows) => new Map([...rows].map((p, i) => [p, i])));
	const slotsByJob = eliminatedRows.map((lots, i) => {
		const joint = itemAt(jointRows, i);
		const slots = new Int32Array(lots.length * joint.length);
		let next = 0;
		for (const k of lots)
			for (const p of joint) slots[next++] = indexAt(from, k) + (rank[k]?.get(p) as number);
		return slots;
	});
	return { at, from, of: slotsByJob };
}

/** Lots come and go and seldom meet in one job: they are eliminated from the information, and other kinds too where there are too many levels. */
function places(kinds: readonly LevelKind[]): Pick<EffectLevels, 'place' | 'jointCount' | 'eliminatedCount'> {
	const count = (kind: ReturnKind) => kinds.filter((levelKind) => levelKind === kind).length;
	const crossedKinds = RETURN_KINDS.filter((kind) => kind !== 'lot').sort((a, b) => count(a) - count(b));
	const kept = new Set<LevelKind>([SHOP]);
	let jointCount = 1;
	for (const kind of crossedKinds) {
		if (jointCount + count(kind) > MOST_JOINT) break;
		jointCount += count(kind);
		kept.add(kind);
	}
	let [small, lots] = [0, 0];
	const place = Int32Array.from(kinds, (kind) => (kept.has(kind) ? small++ : -1 - lots++));
	return { place, jointCount, eliminatedCount: lots };
}
