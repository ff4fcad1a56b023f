import { Router } from 'express';
import { CONTRACT } from '@pocket-twin/core/contract/contract.ts';
import { Refusal } from '@pocket-twin/core/schema/refusal.ts';
import { naturalOrder } from '@pocket-twin/core/setups/namePattern.ts';
import { answer } from '../http/answer.ts';
import type { HttpContext } from '../http/context.ts';
import { idOf } from '../http/problems.ts';
import { findProject } from '../projects/findProject.ts';
import { RecipeRow, recipeOfRow } from './recipe.ts';
import { forecastRecipe, useRecipe } from './useRecipe.ts';

export function recipeRoutes(context: HttpContext): Router {
  const routes = Router();
  const find = async (id: string): Promise<RecipeRow> => {
    const row = await RecipeRow.findByPk(idOf(id, 'recipe'));
    if (!row) throw new Refusal('not-found', 'That recipe is gone.');
    return row;
  };

  answer(routes, CONTRACT.listRecipes, async () =>
    (await RecipeRow.findAll()).map(recipeOfRow).sort((a, b) => naturalOrder(a.recipe.name, b.recipe.name)),
  );

  answer(routes, CONTRACT.saveRecipe, async ({ body }) => recipeOfRow(await RecipeRow.create({ recipe: body })));

  answer(routes, CONTRACT.renameRecipe, async ({ params, body: { name } }) => {
    const row = await find(params.recipeId);
    return recipeOfRow(await row.update({ recipe: { ...row.recipe, name } }));
  });

  answer(routes, CONTRACT.deleteRecipe, async ({ params }) => (await find(params.recipeId)).destroy());

  answer(routes, CONTRACT.forecastRecipe, async ({ params, body }) =>
    forecastRecipe((await findProject(params.projectId)).id, body),
  );

  answer(routes, CONTRACT.useRecipe, async ({ params, body }) =>
    useRecipe(context, (await findProject(params.projectId)).id, body),
  );

  return routes;
}
