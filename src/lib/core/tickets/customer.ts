import { z } from 'zod';
import { customerRecord, type Customer } from './ticket-record';

/** A mail address as somebody types it; empty where there is none. What was stored before is not judged again. */
const mailAddress = z
	.string()
	.trim()
	.max(200)
	.refine((typed) => typed === '' || z.email().safeParse(typed).success, {
		error: ({ input }) =>
			`is ${String(input)}, which is no mail address; write it as name@example.net, or leave it empty`
	});

/** Who brings a device, as counter and correction write it. */
export const customerFields = z.strictObject({
	name: z.string().trim().min(1, 'is empty; write the customer’s name').max(200),
	kind: z.enum(['private', 'trade']),
	phone: z.string().trim().max(64).optional(),
	email: mailAddress.optional(),
	language: customerRecord.shape.language,
	hears_by: customerRecord.shape.hears_by
});

/** A customer without the fields that nobody filled in. */
export const tidyCustomer = ({
	name,
	kind,
	phone,
	email,
	language,
	hears_by
}: z.output<typeof customerFields>): Customer => ({
	name,
	kind,
	...(phone ? { phone } : {}),
	...(email ? { email } : {}),
	...(language ? { language } : {}),
	...(hears_by ? { hears_by } : {})
});
