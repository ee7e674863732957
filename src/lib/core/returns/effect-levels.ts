import { RETURN_KINDS, type FollowedJob, type ReturnKind } from './followed-jobs';

/** The shop as a whole is the first level: every job has it, and nothing is believed of it. */
export const SHOP = 'shop';
export type LevelKind = ReturnKind | typeof SHOP;

/** What jobs are told apart by, numbered: every operation, part, lot, source, technician, model and procedure is a level of its kind. */
export interface EffectLevels {
	kinds: LevelKind[];
	names: string[];
	/** of each job, the numbers of its levels */
	rows: Int32Array[];
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
	/** of each job: for every one solved for alone, for every one of the others, in the order of its row, where their meeting stands */
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
	return { kinds, names, rows, jobs: counts, ...placed, meeting: meetingOf(rows, placed) };
}

function meetingOf(
	rows: readonly Int32Array[],
	{ place, alone }: Pick<EffectLevels, 'place' | 'alone'>
): Meeting {
	const met = Array.from({ length: alone }, () => new Set<number>());
	const eachMeeting = (row: Int32Array, meets: (far: number, near: number) => void) => {
		for (const a of row) {
			const far = -1 - (place[a] as number);
			if (far < 0) continue;
			for (const b of row) if ((place[b] as number) >= 0) meets(far, place[b] as number);
		}
	};
	for (const row of rows) eachMeeting(row, (far, near) => met[far]?.add(near));
	const at = met.map((each) => Int32Array.from(each).sort());
	const from = new Int32Array(alone + 1);
	at.forEach(({ length }, far) => (from[far + 1] = (from[far] as number) + length));
	const rank = at.map((each) => new Map([...each].map((near, i) => [near, i])));
	const of = rows.map((row) => {
		const slots: number[] = [];
		eachMeeting(row, (far, near) => slots.push((from[far] as number) + (rank[far]?.get(near) as number)));
		return Int32Array.from(slots);
	});
	return { at, from, of };
}

/** Lots come and go and seldom meet in one job: they are solved for alone, and other kinds too where there are too many levels. */
function places(kinds: readonly LevelKind[]): Pick<EffectLevels, 'place' | 'together' | 'alone'> {
	const count = (kind: ReturnKind) => kinds.filter((each) => each === kind).length;
	const others = RETURN_KINDS.filter((kind) => kind !== 'lot').sort((a, b) => count(a) - count(b));
	const kept = new Set<LevelKind>([SHOP]);
	let together = 1;
	for (const kind of others) {
		if (together + count(kind) > MOST_TOGETHER) break;
		together += count(kind);
		kept.add(kind);
	}
	let [near, far] = [0, 0];
	const place = Int32Array.from(kinds, (kind) => (kept.has(kind) ? near++ : -1 - far++));
	return { place, together, alone: far };
}
