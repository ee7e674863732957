import { RETURN_KINDS, type FollowedJob, type ReturnKind } from './followed-jobs';

/** The shop as a whole is the first level: every job has it, and next to nothing is believed of it. */
export const SHOP = 'shop';
export type LevelKind = ReturnKind | typeof SHOP;

/** What jobs are told apart by, numbered: every operation, part, lot, source, technician, model and procedure is a level of its kind. */
export interface EffectLevels {
	kinds: LevelKind[];
	names: string[];
	/** of each job, the numbers of its levels */
	rows: Int32Array[];
	/** of each job, the places of its levels that are solved for together, in their order, and of those solved for alone */
	near: Int32Array[];
	far: Int32Array[];
	/** jobs of each level */
	jobs: number[];
	/** place among those that are solved for together, or -1 - the place among those that are solved for alone */
	place: Int32Array;
	together: number;
	alone: number;
	meeting: Meeting;
}

/** Which levels that are solved for alone meet which of the others in a job. */
interface Meeting {
	/** of each one solved for alone, the places of those it meets, in their order */
	at: Int32Array[];
	/** where its first meeting stands among all, and their number at the end */
	from: Int32Array;
	/** of each job: for every one solved for alone, for every one of the others, where their meeting stands */
	of: Int32Array[];
}

/** So many levels are solved for together; a choice that bounds the work. */
const MOST_TOGETHER = 700;

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
	const smallRows = rows.map((row) =>
		row
			.map((a) => place[a] as number)
			.filter((p) => p >= 0)
			.sort()
	);
	const lotRows = rows.map((row) => row.map((a) => -1 - (place[a] as number)).filter((k) => k >= 0));
	const meeting = meetingOf(smallRows, lotRows, placed.alone);
	return { kinds, names, rows, near: smallRows, far: lotRows, jobs: counts, ...placed, meeting };
}

function meetingOf(
	smallRows: readonly Int32Array[],
	lotRows: readonly Int32Array[],
	lotCount: number
): Meeting {
	const met = Array.from({ length: lotCount }, () => new Set<number>());
	lotRows.forEach((lots, i) => {
		for (const k of lots) for (const p of smallRows[i] as Int32Array) met[k]?.add(p);
	});
	const at = met.map((rows) => Int32Array.from(rows).sort());
	const from = new Int32Array(lotCount + 1);
	at.forEach(({ length }, k) => (from[k + 1] = (from[k] as number) + length));
	const rank = at.map((rows) => new Map([...rows].map((p, i) => [p, i])));
	const lotShares = lotRows.map((lots, i) => {
		const small = smallRows[i] as Int32Array;
		const slots = new Int32Array(lots.length * small.length);
		let next = 0;
		for (const k of lots)
			for (const p of small) slots[next++] = (from[k] as number) + (rank[k]?.get(p) as number);
		return slots;
	});
	return { at, from, of: lotShares };
}

/** Lots come and go and seldom meet in one job: they are solved for alone, and other kinds too where there are too many levels. */
function places(kinds: readonly LevelKind[]): Pick<EffectLevels, 'place' | 'together' | 'alone'> {
	const count = (kind: ReturnKind) => kinds.filter((levelKind) => levelKind === kind).length;
	const crossedKinds = RETURN_KINDS.filter((kind) => kind !== 'lot').sort((a, b) => count(a) - count(b));
	const kept = new Set<LevelKind>([SHOP]);
	let together = 1;
	for (const kind of crossedKinds) {
		if (together + count(kind) > MOST_TOGETHER) break;
		together += count(kind);
		kept.add(kind);
	}
	let [small, lots] = [0, 0];
	const place = Int32Array.from(kinds, (kind) => (kept.has(kind) ? small++ : -1 - lots++));
	return { place, together, alone: lots };
}
