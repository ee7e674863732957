import { z } from 'zod';
import { moment } from '../units/codec';

/** Fields that entries of a ticket share. */

export const place = z.string().min(1).max(16);
export const text = z.string().max(4000);
export const remark = z.string().trim().min(1).max(500);
export const actorName = z.string().min(1).max(64);
/** when it was entered, and by whom: technician code or sign-in name */
export const stamp = { at: moment.optional(), by: actorName.optional() };
