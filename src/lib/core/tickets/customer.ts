import { z } from 'zod';
import type { Customer } from './ticket-record';

/** Who brings a device, as counter and correction write it. */
export const customerFields = z.strictObject({
	name: z.string().trim().min(1, 'is empty; write the customer’s name').max(200),
	kind: z.enum(['private', 'trade']),
	phone: z.string().trim().max(64).optional(),
	email: z.string().trim().max(200).optional()
});

/** A customer without the fields that nobody filled in. */
export const tidyCustomer = ({ name, kind, phone, email }: z.output<typeof customerFields>): Customer => ({
	name,
	kind,
	...(phone ? { phone } : {}),
	...(email ? { email } : {})
});
