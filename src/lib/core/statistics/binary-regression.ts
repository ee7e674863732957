import { itemAt } from '../units/vector';
import { normalCdf, normalPdf } from './normal';

/**
 * How a yes depends on what was asked: binary regression with independent normal beliefs about the coefficients, at its mode,
 * by Fisher scoring (McCullagh & Nelder, Generalized Linear Models, 2nd ed. 1989, 4.4), with Laplace's approximation of
 * the evidence (e.g. MacKay, Neural Computation 4, 1992) to weigh several such models.
 */
export interface Link {
	/** chance of a yes at a linear predictor */
	chance(eta: number): number;
	slope(eta: number): number;
}

const bounded = (eta: number) => Math.min(30, Math.max(-30, eta));
export const LOGIT: Link = {
	chance: (eta) => 1 / (1 + Math.exp(-bounded(eta))),
	slope: (eta) => {
		const p = 1 / (1 + Math.exp(-bounded(eta)));
		return p * (1 - p);
	}
};
export const PROBIT: Link = {
	chance: (eta) => normalCdf(Math.min(8, Math.max(-8, eta))),
	slope: (eta) => normalPdf(Math.min(8, Math.max(-8, eta)))
};
/** A yes unless the least of many thresholds is passed: log-log, rising with eta. */
export const LOG_LOG: Link = {
	chance: (eta) => Math.exp(-Math.exp(-Math.min(30, Math.max(-4, eta)))),
	slope: (eta) => {
		const e = Math.exp(-Math.min(30, Math.max(-4, eta)));
		return e * Math.exp(-e);
	}
};

/** Cases that were asked alike. */
export interface BinaryCases {
	/** one value a coefficient */
	x: readonly number[];
	yes: number;
	all: number;
}

export interface BinaryFit {
	coefficients: number[];
	/** their covariance at the mode */
	covariance: number[][];
	/** log of the chance of the data, by Laplace's approximation; without the binomials of the counts */
	logEvidence: number;
}

const ROUNDS = 60;
const CLOSE = 1e-10;
const LEAST = 1e-9;

/**
 * @param beliefs mean and standard deviation of each coefficient; an infinite one is flat
 * @example fitBinary(cases, beliefs, LOGIT).coefficients
 */
export function fitBinary(
	cases: readonly BinaryCases[],
	beliefs: readonly { mean: number; sd: number }[],
	{ chance, slope }: Link
): BinaryFit {
	const inverse = beliefs.map(({ sd }) => 1 / sd ** 2);
	const inside = (p: number) => Math.min(1 - LEAST, Math.max(LEAST, p));
	const etaOf = (x: readonly number[], b: readonly number[]) =>
		x.reduce((sum, value, k) => sum + value * (b[k] as number), 0);
	const logPosterior = (b: readonly number[]) =>
		cases.reduce((sum, { x, yes, all }) => {
			const p = inside(chance(etaOf(x, b)));
			return sum + yes * Math.log(p) + (all - yes) * Math.log(1 - p);
		}, 0) -
		beliefs.reduce(
			(sum, { mean }, k) => sum + 0.5 * (inverse[k] as number) * ((b[k] as number) - mean) ** 2,
			0
		);
	const informationAt = (b: readonly number[]) => {
		const information = beliefs.map((_, k) => beliefs.map((__, l) => (k === l ? (inverse[k] as number) : 0)));
		const score = beliefs.map(({ mean }, k) => (inverse[k] as number) * (mean - (b[k] as number)));
		for (const { x, yes, all } of cases) {
			const eta = etaOf(x, b);
			const p = inside(chance(eta));
			const s = slope(eta);
			const weight = (all * s * s) / (p * (1 - p));
			const pull = (s * (yes - all * p)) / (p * (1 - p));
			x.forEach((value, k) => {
				score[k] = (score[k] as number) + value * pull;
				const row = itemAt(information, k);
				x.forEach((factor, l) => (row[l] = (row[l] as number) + weight * value * factor));
			});
		}
		return { information, score };
	};
	let b = beliefs.map(({ mean }) => mean);
	let log = logPosterior(b);
	for (let round = 0; round < ROUNDS; round++) {
		const { information, score } = informationAt(b);
		const step = solve(information, score);
		// half steps where the whole one overshoots
		let [share, next, nextLog] = [1, b, -Infinity];
		for (; share > 1e-4; share /= 2) {
			next = b.map((value, k) => value + share * (step[k] as number));
			nextLog = logPosterior(next);
			if (nextLog >= log - 1e-12) break;
		}
		const moved = Math.abs(nextLog - log);
		if (nextLog >= log - 1e-12) [b, log] = [next, nextLog];
		if (moved < CLOSE) break;
	}
	const { information } = informationAt(b);
	const covariance = beliefs.map((_, k) =>
		solve(
			information,
			beliefs.map((__, l) => (k === l ? 1 : 0))
		)
	);
	const proper = inverse.filter((precision) => precision > 0);
	const logEvidence =
		log +
		0.5 * proper.reduce((sum, precision) => sum + Math.log(precision), 0) -
		0.5 * logDeterminant(information);
	return { coefficients: b, covariance, logEvidence };
}

/** The linear predictor at some values. */
export const predictorAt = ({ coefficients }: BinaryFit, x: readonly number[]): number =>
	x.reduce((sum, value, k) => sum + value * (coefficients[k] as number), 0);

/** How far it is in doubt: its standard deviation. */
export function predictorDoubt({ covariance }: BinaryFit, x: readonly number[]): number {
	const variance = x.reduce(
		(sum, value, k) =>
			sum + x.reduce((inner, factor, l) => inner + value * factor * (itemAt(covariance, k)[l] as number), 0),
		0
	);
	return Math.sqrt(Math.max(0, variance));
}

/** Solves a symmetric positive definite system by Cholesky's decomposition. */
function solve(matrix: readonly (readonly number[])[], right: readonly number[]): number[] {
	const lower = cholesky(matrix);
	const n = right.length;
	const y = [...right];
	for (let i = 0; i < n; i++) {
		for (let k = 0; k < i; k++) y[i] = (y[i] as number) - (itemAt(lower, i)[k] as number) * (y[k] as number);
		y[i] = (y[i] as number) / (itemAt(lower, i)[i] as number);
	}
	for (let i = n - 1; i >= 0; i--) {
		for (let k = i + 1; k < n; k++)
			y[i] = (y[i] as number) - (itemAt(lower, k)[i] as number) * (y[k] as number);
		y[i] = (y[i] as number) / (itemAt(lower, i)[i] as number);
	}
	return y;
}

const logDeterminant = (matrix: readonly (readonly number[])[]) =>
	cholesky(matrix).reduce((sum, row, i) => sum + 2 * Math.log(row[i] as number), 0);

function cholesky(matrix: readonly (readonly number[])[]): number[][] {
	const lower = matrix.map((row) => row.map(() => 0));
	matrix.forEach((row, i) => {
		for (let j = 0; j <= i; j++) {
			let sum = row[j] as number;
			for (let k = 0; k < j; k++) sum -= (itemAt(lower, i)[k] as number) * (itemAt(lower, j)[k] as number);
			if (i === j) itemAt(lower, i)[j] = Math.sqrt(Math.max(sum, 1e-12));
			else itemAt(lower, i)[j] = sum / (itemAt(lower, j)[j] as number);
		}
	});
	return lower;
}
