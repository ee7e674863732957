/**
 * Something that a shop learns of its past tickets: sums to which each ticket adds its own share and from which exactly that
 * is taken out again. A share is worked out once and kept, so that a later catalog does not take out what was never added.
 */
export interface Learner<Sum, Share> {
	empty(): Sum;
	/** adds a share in place: one more ticket must not cost a learning of all */
	add(sum: Sum, share: Share): void;
	/** takes it out again, to the last digit */
	remove(sum: Sum, share: Share): void;
	/** the sum as it is read from, the same whichever way it came about; another object, so that the one before stays */
	settled(sum: Sum): Sum;
}
