import type { Catalog } from '../catalog/catalog';
import { comebackRate, type ComebackRate } from '../comebacks/comeback-rate';
import type { Instant } from '../units/instant';
import { WATCHED, type Alarm, type Alarms, type Watched } from './comeback-alarms';
import { fairRatio, type Effects, type FairRatio } from './fair-ratio';
import { RETURN_KINDS, type FollowedJob, type RateKind, type ReturnKind } from './followed-jobs';

/** Closed jobs as they are judged at a moment: followed until then, with what is usual of their factors and what rings. */
export interface JudgedJobs {
	asOf: Instant;
	catalog: Catalog;
	jobs: FollowedJob[];
	effects: Effects;
	alarms: Alarms;
}

export type ComebacksBy = RateKind | 'shop';

export interface ComebackRow extends ComebackRate {
	key: string;
	label: string;
	fair: FairRatio | null;
	alarm: Alarm | null;
}

/** Jobs by the rows of a kind, in the order of their keys. */
function jobsBy(jobs: readonly FollowedJob[], kind: RateKind): [key: string, jobs: FollowedJob[]][] {
	const rows = new Map<string, FollowedJob[]>();
	for (const job of jobs) {
		for (const level of new Set(job.levels[kind])) {
			const row = rows.get(level);
			if (row) row.push(job);
			else rows.set(level, [job]);
		}
	}
	return [...rows].sort(([a], [b]) => (a < b ? -1 : 1));
}

const among = <Kind extends string>(kinds: readonly Kind[], kind: string): kind is Kind =>
	(kinds as readonly string[]).includes(kind);

/** Rates within so many days by row, with what is fair and what rings. */
export function comebackRows(
	{ jobs, effects, alarms, catalog }: JudgedJobs,
	kind: ComebacksBy,
	days: number
): ComebackRow[] {
	if (kind === 'shop') {
		if (jobs.length === 0) return [];
		return [{ key: 'shop', label: catalog.shop.name, ...comebackRate(jobs, days), fair: ALIKE, alarm: null }];
	}
	return jobsBy(jobs, kind).map(([key, rowJobs]) => ({
		key,
		label: rowLabel(catalog, kind, key),
		...comebackRate(rowJobs, days),
		fair: among<ReturnKind>(RETURN_KINDS, kind) ? fairRatio(effects, kind, key) : null,
		alarm: among<Watched>(WATCHED, kind) ? (alarms[kind].get(key) ?? null) : null
	}));
}

/** The shop against itself. */
const ALIKE: FairRatio = { ratio: 1, low: 1, high: 1, chance_worse: 0.5 };

export function rowLabel(catalog: Catalog, kind: RateKind, key: string): string {
	const { operations, parts, technicians, models, procedures, records } = catalog;
	switch (kind) {
		case 'operation':
			return operations.get(key)?.label ?? key;
		case 'part':
			return parts.get(key)?.label ?? key;
		case 'technician':
			return technicians.get(key)?.name ?? key;
		case 'model':
			return models.get(key)?.label ?? key;
		case 'method':
			return procedures.get(key)?.label ?? key;
		case 'supplier':
			return records.supplier.get(key)?.label ?? key;
		default:
			return key;
	}
}
