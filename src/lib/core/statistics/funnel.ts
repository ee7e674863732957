import { logGamma } from './gamma';

const logChoose = (n: number, k: number) => logGamma(n + 1) - logGamma(k + 1) - logGamma(n - k + 1);

/**
 * A limit of a funnel: the share of `trials` below which a true share `usual` falls with a probability, interpolated between whole
 * numbers. Source: D. J. Spiegelhalter, Statistics in Medicine 24:1185-1202 (2005), appendix A.1.1.
 * @param usual over 0 and below 1
 * @param trials whole, at least 1
 * @param probability over 0 and below 1
 * @returns within 0 and 1
 */
export function funnelLimit(usual: number, trials: number, probability: number): number {
	let below = 0;
	for (let k = 0; k <= trials; k++) {
		const mass = Math.exp(logChoose(trials, k) + k * Math.log(usual) + (trials - k) * Math.log1p(-usual));
		if (below + mass > probability || k === trials) {
			const share = mass > 0 ? (below + mass - probability) / mass : 0;
			return Math.min(1, Math.max(0, (k - share) / trials));
		}
		below += mass;
	}
	return 1;
}
