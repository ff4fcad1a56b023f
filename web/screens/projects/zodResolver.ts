import type { FieldValues, Resolver } from 'react-hook-form';
import type * as z from 'zod';

/** Checks a form with the schema that the server checks it with. */
export function zodResolver<Values extends FieldValues>(schema: z.ZodType<Values, Values>): Resolver<Values> {
  return (values) => {
    const result = schema.safeParse(values);
    if (result.success) return { values: result.data, errors: {} };
    const errors = Object.fromEntries(
      result.error.issues.map((issue) => [issue.path.join('.'), { type: 'invalid', message: issue.message }]),
    );
    return { values: {}, errors: errors as never };
  };
}
