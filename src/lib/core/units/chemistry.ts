/** Chemistries of rechargeable cells that limits are known of. */
export const CHEMISTRIES = ['li-ion', 'li-ion-hv', 'lifepo4', 'ni-mh'] as const;
export type Chemistry = (typeof CHEMISTRIES)[number];

const plain = (text: string) => text.toLowerCase().replace(/[\s-]/g, '');
const KNOWN = new Map(CHEMISTRIES.map((chemistry) => [plain(chemistry), chemistry]));

/**
 * The chemistry that is meant, in any spelling of case, space and hyphen; null where it is none of those known.
 * @example chemistryOf('Li Ion') // 'li-ion'
 */
export const chemistryOf = (text: string): Chemistry | null => KNOWN.get(plain(text)) ?? null;
