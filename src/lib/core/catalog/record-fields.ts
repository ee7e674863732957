import { z } from 'zod';
import { field, maybe, NUMBER, TEXT } from './form-fields';

/** Fields that several kinds of records have, as their schemas and their forms hold them. */
export const labelSchema = z.string().trim().min(1).max(200);
export const shareSchema = z.number().min(0).max(1);
export const minutesSchema = z.number().min(0).max(10_000);
export const cautionSchema = z.string().max(500);

export const CODE = field('code', 'Code', TEXT, 'stays; a-z 0-9 . _ -');
export const LABEL = field('label', 'Label', TEXT);
export const MINUTES = field('minutes', 'Minutes, usual', NUMBER);
export const CAUTION = maybe('caution', 'Caution shown at the step', TEXT);
