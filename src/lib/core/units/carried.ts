/** Whether a model carries one of the words that something is for; what names none is for all models. */
export const isCarried = (
	wanted: readonly string[] | null | undefined,
	carried: readonly string[] | undefined
): boolean => !wanted || wanted.some((word) => carried?.includes(word) ?? false);
