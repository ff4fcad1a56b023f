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

export const SavedRecipe = z.object({ id: z.uuid(), recipe: Recipe, savedAt: z.iso.datetime() });
export type SavedRecipe = z.infer<typeof SavedRecipe>;

export const RecipeRename = z.object({ name: Recipe.shape.name });

/** A recipe, saved or not, on chosen clips; `also` names those it does not fit that a person wants it on all the same. */
export const RecipeUse = z.object({
  clipIds: z.array(z.uuid()).min(1).max(10_000),
  recipe: Recipe,
  also: z.array(z.uuid()).max(10_000),
});
export type RecipeUse = z.infer<typeof RecipeUse>;

/** What a recipe will do, before anything is kept. */
export const RecipeForecast = z.object({
  fits: z.array(z.object({ clipId: z.uuid(), name: z.string() })),
  left: z.array(
    z.object({
      clipId: z.uuid(),
      name: z.string(),
      why: z.string(),
      /** It could be used all the same, on a person's word for this clip. */
      canBeForced: z.boolean(),
    }),
  ),
});
export type RecipeForecast = z.infer<typeof RecipeForecast>;
