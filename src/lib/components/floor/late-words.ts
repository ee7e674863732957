/** Words of the plan with their moments written as the shop writes them: "{1764230400000}" becomes "Thu 15:40"; a planned moment may fall between two milliseconds. */
export const lateWords = (words: string, format: { weekdayTime(at: number): string }): string =>
	words.replace(/\{(\d+(?:\.\d+)?)\}/g, (_, at: string) => format.weekdayTime(Number(at)));
