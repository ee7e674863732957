import { z } from 'zod';

export const ROLES = ['manager', 'counter', 'technician'] as const;
export type Role = (typeof ROLES)[number];
/** Who works at a bench. */
export const BENCH_ROLES = ['manager', 'technician'] as const satisfies readonly Role[];
export const roleSchema = z.enum(ROLES);

/** Costs and profit are the manager's alone, on every page and in every answer. */
export const seesCosts = (role: Role) => role === 'manager';
