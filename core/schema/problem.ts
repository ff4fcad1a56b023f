import * as z from 'zod';

/** The body of every error over HTTP (RFC 9457, application/problem+json). `title` is the sentence for people. */
export const Problem = z.object({
  type: z.literal('about:blank'),
  status: z.int(),
  title: z.string(),
  code: z.string(),
});
export type Problem = z.infer<typeof Problem>;
