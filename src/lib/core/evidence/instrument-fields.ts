import { z } from 'zod';
import { STAGES } from '../units/stage';

/** The moment of the repair that an entry belongs to. */
export const stage = z.enum(STAGES);
export const stageField = stage.default('diagnosis');
/** Name of the instrument that it was read with. */
export const instrumentName = z.string().trim().min(1).max(64);
export const instrument = { meter: instrumentName.optional() };
/** Revision of the board. */
export const boardName = z.string().trim().min(1).max(64);
