import { SuggestionUsed } from '../schema/batch.ts';
import { Recipe, RecipeForecast, RecipeRename, RecipeUse, SavedRecipe } from '../schema/recipe.ts';
import { endpoint } from './endpoint.ts';

export const recipes = {
  listRecipes: endpoint({
    method: 'get',
    path: '/recipes',
    summary: 'The saved recipes, by name',
    answer: SavedRecipe.array(),
  }),
  saveRecipe: endpoint({
    method: 'post',
    path: '/recipes',
    summary: 'Saves a recipe, as it was exported or made from a clip’s repair',
    body: Recipe,
    answer: SavedRecipe,
    status: 201,
  }),
  renameRecipe: endpoint({
    method: 'patch',
    path: '/recipes/:recipeId',
    summary: 'Renames a recipe',
    body: RecipeRename,
    answer: SavedRecipe,
  }),
  deleteRecipe: endpoint({
    method: 'delete',
    path: '/recipes/:recipeId',
    summary: 'Deletes a recipe; what was kept by it stays',
    status: 204,
  }),
  forecastRecipe: endpoint({
    method: 'post',
    path: '/projects/:projectId/recipe-forecasts',
    summary: 'Which of the clips a recipe fits, and why not the others; nothing is kept',
    body: RecipeUse,
    answer: RecipeForecast,
  }),
  useRecipe: endpoint({
    method: 'post',
    path: '/projects/:projectId/recipe-uses',
    summary: 'Keeps a recipe’s repair on the clips that it fits, in one batch that one undo takes back',
    body: RecipeUse,
    answer: SuggestionUsed,
  }),
};
