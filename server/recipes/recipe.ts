import { DataTypes, Model } from 'sequelize';
import type { CreationOptional, InferAttributes, InferCreationAttributes, Sequelize } from 'sequelize';
import { savedRecipe } from '@pocket-twin/core/repair/plan/recipes.ts';
import type { Recipe, SavedRecipe } from '@pocket-twin/core/schema/recipe.ts';
import { cameAt, ownId } from '../platform/database/columns.ts';

/** A repair saved under a name, for any project's clips. */
export class RecipeRow extends Model<InferAttributes<RecipeRow>, InferCreationAttributes<RecipeRow>> {
  declare id: CreationOptional<string>;
  declare recipe: Recipe;
  declare createdAt: CreationOptional<Date>;
}

export function initRecipe(sequelize: Sequelize): void {
  RecipeRow.init(
    {
      id: ownId(),
      recipe: {
        type: DataTypes.JSONB,
        allowNull: false,
        get(): Recipe {
          const saved: unknown = this.getDataValue('recipe');
          return saved === undefined ? (saved as never) : savedRecipe(saved);
        },
      },
      createdAt: cameAt(),
    },
    { sequelize, tableName: 'recipes', timestamps: false },
  );
}

/** The names of the saved recipes, by id. */
export async function recipeNames(): Promise<Map<string, string>> {
  return new Map((await RecipeRow.findAll()).map(({ id, recipe }) => [id, recipe.name]));
}

export function recipeOfRow({ id, recipe, createdAt }: RecipeRow): SavedRecipe {
  return { id, recipe, savedAt: createdAt.toISOString() };
}
