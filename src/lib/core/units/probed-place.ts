import { z } from 'zod';
import { codeSchema } from './code';

/**
 * Where a probe is put to read something: a contact of the port, or a point on the board. On the wire `pin` or `point` names it; the program
 * has one name for both, so that all that is known of readings holds for either.
 */

const POINT = 'point:';

/** @example pointPlace('c12') // 'point:c12' */
export const pointPlace = (code: string) => `${POINT}${code}`;

/** Code of the board point that a place is; null of a contact. */
export const pointOf = (place: string): string | null =>
	place.startsWith(POINT) ? place.slice(POINT.length) : null;

/** Ways of a meter to read a place to ground. */
export const MODES = ['diode', 'ohms', 'volts'] as const;

/** The two fields on the wire. */
export const placeFields = { pin: z.string().min(1).max(16).optional(), point: codeSchema.optional() };

/** A place as the screens send it. */
export const probedPlace = z
	.string()
	.min(1)
	.max(POINT.length + 64);

interface OnWire {
	pin?: string | undefined;
	point?: string | undefined;
}
type Placed<Wire> = Omit<Wire, 'pin' | 'point'> & { pin: string };

const renamedKey = (value: object, from: string, to: string, name: (text: string) => string) =>
	Object.fromEntries(
		Object.entries(value).map(([key, item]) => (key === from ? [to, name(item as string)] : [key, item]))
	);

/** A record with the two fields, one of which it must have; `pin` alone in the program. */
export const placed = <Shape extends z.ZodType<OnWire>>(shape: Shape) =>
	z.codec(
		shape.refine(({ pin, point }) => (pin === undefined) !== (point === undefined), {
			error: 'needs either a pin or a point',
			path: ['pin']
		}),
		z.custom<Placed<z.output<Shape>>>(),
		{
			decode: (wire) =>
				((wire as OnWire).point === undefined
					? wire
					: renamedKey(wire as object, 'point', 'pin', pointPlace)) as Placed<z.output<Shape>>,
			encode: (reading) => {
				const point = pointOf((reading as { pin: string }).pin);
				const wire = point === null ? reading : renamedKey(reading as object, 'pin', 'point', () => point);
				return wire as never;
			}
		}
	);
