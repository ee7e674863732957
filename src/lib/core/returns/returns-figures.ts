import { comebackRate, type ComebackRate } from '../comebacks/comeback-rate';
import { funnelLimit } from '../statistics/funnel';
import { logRank } from '../statistics/log-rank';
import type { Instant } from '../units/instant';
import { comebackCauses } from './comeback-causes';
import { comebackCurve, type CurvePoint } from './comeback-curve';
import { comebackRows, rowLabel, type ComebackRow, type JudgedJobs } from './comeback-rows';
import type { FollowedJob, RateKind } from './followed-jobs';

export interface FiguresAsked {
	by: RateKind;
	/** the row that is looked at closer; the shop without */
	row: string | null;
	days: number;
	/** whose numbers beside the shop's a technician may see; null: all */
	only: string | null;
}

/** Rates by row, one row closer, and how far rows stray by chance. */
export interface ReturnsFigures {
	asOf: Instant;
	by: RateKind;
	days: number;
	shop: ComebackRate;
	rows: ComebackRow[];
	chosen: {
		key: string | null;
		label: string;
		rate: ComebackRate;
		curve: CurvePoint[];
		causes: { label: string; cause: string | null; comebacks: number; share: number }[];
		/** of a row: whether its jobs come back more often than others of the same operations; null where there are too few */
		beside: { p: number; observed: number; expected: number; jobs: number } | null;
	};
	funnel: { jobs: number; low: number; high: number; lowest: number; highest: number }[];
}

export function returnsFigures(
	judged: JudgedJobs,
	{ by: kind, days, only: onlyKey, row: wantedRow }: FiguresAsked
): ReturnsFigures {
	const { jobs, catalog } = judged;
	const mine = (key: string) => kind !== 'technician' || onlyKey === null || key === onlyKey;
	const rows = comebackRows(judged, kind, days).filter(({ key }) => mine(key));
	const row = wantedRow !== null && rows.some(({ key }) => key === wantedRow) ? wantedRow : null;
	const chosenJobs = row === null ? jobs : jobs.filter(({ levels }) => levels[kind].includes(row));
	const shop = comebackRate(jobs, days);
	return {
		asOf: judged.asOf,
		by: kind,
		days,
		shop,
		rows,
		chosen: {
			key: row,
			label: row === null ? catalog.shop.name : rowLabel(catalog, kind, row),
			rate: comebackRate(chosenJobs, days),
			curve: comebackCurve(chosenJobs, CURVE_DAYS),
			causes: comebackCauses(chosenJobs, days).map(({ cause, ...share }) => ({
				...share,
				cause,
				label: cause === null ? 'No cause yet' : (catalog.records.cause.get(cause)?.label ?? cause)
			})),
			beside: row === null ? null : besideAlike(jobs, chosenJobs)
		},
		funnel: funnelOf(shop.rate, rows)
	};
}

const CURVE_DAYS = 180;

/** Like jobs only: others that share an operation with the row's, of the same stretch of time. */
function besideAlike(jobs: readonly FollowedJob[], rowJobs: readonly FollowedJob[]) {
	const operations = new Set(rowJobs.flatMap(({ levels }) => levels.operation));
	const [first, last] = [rowJobs[0]?.closedAt ?? 0, rowJobs.at(-1)?.closedAt ?? 0];
	const members = new Set(rowJobs.map(({ number }) => number));
	const alike = jobs.filter(
		({ number, closedAt, levels }) =>
			!members.has(number) &&
			closedAt >= first &&
			closedAt <= last &&
			levels.operation.some((operation) => operations.has(operation))
	);
	if (rowJobs.length < FEWEST_BESIDE || alike.length < FEWEST_BESIDE) return null;
	const { p, observed, expected } = logRank(rowJobs, alike);
	return { p, observed, expected, jobs: alike.length };
}
const FEWEST_BESIDE = 10;

/** Limits within which 95 and 99.8 of 100 rows lie that are as the shop is. */
function funnelOf(usual: number, rows: readonly ComebackRow[]): ReturnsFigures['funnel'] {
	const maxJobs = Math.max(20, ...rows.map(({ jobs }) => jobs));
	if (usual <= 0 || usual >= 1) return [];
	const sizes = new Set(
		Array.from({ length: POINTS }, (_, i) => Math.max(1, Math.round(maxJobs * ((i + 1) / POINTS) ** 2)))
	);
	return [...sizes].map((jobs) => ({
		jobs,
		low: funnelLimit(usual, jobs, 0.025),
		high: funnelLimit(usual, jobs, 0.975),
		lowest: funnelLimit(usual, jobs, 0.001),
		highest: funnelLimit(usual, jobs, 0.999)
	}));
}
const POINTS = 28;
