import * as z from 'zod';

export const InspectJob = z.object({ clipId: z.uuid() });
export type InspectJob = z.infer<typeof InspectJob>;

export const WriteJob = z.object({ writingId: z.uuid() });
export type WriteJob = z.infer<typeof WriteJob>;

export const SetupsJob = z.object({ projectId: z.uuid() });
export type SetupsJob = z.infer<typeof SetupsJob>;
