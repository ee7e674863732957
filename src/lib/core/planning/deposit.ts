/** A deposit in whole units of the currency: what is asked for at a counter is not counted in hundredths. Common practice, no source. */
export const depositMinor = (priceMinor: number, depositShare: number): number =>
	Math.round((priceMinor * depositShare) / 100) * 100;
