/**
 * A noun that agrees with its count.
 * @example nounFor(1, 'closed ticket') // 'closed ticket'
 */
export const nounFor = (count: number, one: string, plural = `${one}s`): string =>
	count === 1 ? one : plural;
