import * as z from 'zod';

/** A folder named in the start configuration, whose files can be brought in without copying. */
export const MediaFolder = z.object({ index: z.int().nonnegative(), name: z.string(), path: z.string() });
export type MediaFolder = z.infer<typeof MediaFolder>;

export const MediaEntry = z.object({
  name: z.string(),
  /** From the media folder, with slashes. */
  path: z.string(),
  kind: z.enum(['folder', 'file']),
  bytes: z.int().nonnegative(),
});
export type MediaEntry = z.infer<typeof MediaEntry>;

/** What was passed over, each a sentence that names it and says why. */
const Skipped = z.array(z.string());

export const MediaListing = z.object({ entries: z.array(MediaEntry), total: z.int().nonnegative(), skipped: Skipped });
export type MediaListing = z.infer<typeof MediaListing>;

const Index = z.coerce.number().int().nonnegative();
const InnerPath = z.string().max(4000);

export const ListingWanted = z.object({
  path: InnerPath.default(''),
  offset: Index.default(0),
  limit: z.coerce.number().int().min(1).max(1000).default(500),
});
export type ListingWanted = z.infer<typeof ListingWanted>;

/** Files and whole folders to bring in where they lie. */
export const LinkWanted = z.object({ folder: Index, paths: z.array(InnerPath).min(1).max(10_000) });
export type LinkWanted = z.infer<typeof LinkWanted>;

export const Linked = z.object({ clips: z.int().nonnegative(), skipped: Skipped });
export type Linked = z.infer<typeof Linked>;

/** Where a linked file lies now. */
export const NewPlace = z.object({ folder: Index, path: InnerPath });
export type NewPlace = z.infer<typeof NewPlace>;
