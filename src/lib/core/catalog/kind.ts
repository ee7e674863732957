import { z } from 'zod';
import type { CatalogField } from './form-fields';
import type { Needs } from './needs';

/**
 * One kind of record: everything that the program needs to take it in, keep it, show it in a form, give it out and publish
 * its shape. Import, export, known keys, settings, OpenAPI, JSON Schema and docs are drawn from it.
 */
export interface Kind<Schema extends z.ZodType = z.ZodType> {
	schema: Schema;
	/** what it is, for docs */
	about: string;
	/** the stable key of a record within its kind */
	key(record: z.output<Schema>): string;
	/** what it names, to be there */
	refers?(record: z.output<Schema>, need: Needs): void;
	/** its form under Settings; null where it has a screen of its own or is only imported */
	form: { title: string; fields: readonly CatalogField[] } | null;
	/** whether a new record, or a changed one, gives closed tickets another meaning to the engine */
	relearns: 'added or changed' | 'changed' | 'never';
	/**
	 * how many of it a catalog holds at most; without, as many as there are. What the engine computes grows with them: a full
	 * catalog is some seven times the demo shop's, and the odds of a plain ticket take some 0.2 s with it on two cores. Choices.
	 */
	most?: number;
	/** lies on the shelf: it is no part of the catalog that everything is judged with, and moves a counter of its own */
	shelf?: boolean;
	/** its place in an export */
	order: number;
}

export const kind = <Schema extends z.ZodType>(definition: Kind<Schema>): Kind<Schema> => definition;
