/** A lognormal: the logarithm is normal with mean `mu` and standard deviation `sigma`. */
export interface Lognormal {
	mu: number;
	sigma: number;
}

export const lognormalMean = ({ mu, sigma }: Lognormal) => Math.exp(mu + (sigma * sigma) / 2);
