import * as z from 'zod';
import { Repair } from './repair.ts';

const ChannelNumber = z.int().min(1).max(64);

/** What must be on a clip's channels for a recipe to fit it. */
export const RecipeNeeds = z.object({
  channels: ChannelNumber,
  /** These carry programme; these carry none (noise or silence). Of the others nothing is asked. */
  programme: z.array(ChannelNumber),
  empty: z.array(ChannelNumber),
});
export type RecipeNeeds = z.infer<typeof RecipeNeeds>;

/** What is found anew on each clip, since it lies elsewhere in each. */
export const RecipeFinds = z.enum(['sections', 'turns', 'line-up', 'balance']);
export type RecipeFinds = z.infer<typeof RecipeFinds>;

/** A repair saved to be used on other clips: in the database, and as a file. */
export const Recipe = z
  .object({
    recipe: z.literal(1),
    name: z.string().trim().min(1, 'A recipe needs a name.').max(120, 'That name is too long.'),
    needs: RecipeNeeds,
    /** Without sections and turns: those belong to one clip. */
    repair: Repair,
    finds: z.array(RecipeFinds).max(4),
  })
  .refine(({ needs, repair }) => needs.channels === repair.inputChannels, {
    message: 'The recipe needs other channels than its repair has.',
  })
  .refine(({ needs }) => [...needs.programme, ...needs.empty].every((channel) => channel <= needs.channels), {
    message: 'The recipe asks for a channel that its clips do not have.',
  })
  .refine(({ repair }) => repair.sections === null && repair.turns === null, {
    message: 'Sections and turns belong to one clip: a recipe finds them anew on each.',
  });
export type Recipe = z.infer<typeof Recipe>;
