import type { LineupRow } from '@pocket-twin/core/schema/lineup.ts';

/** What was told of clips since a question went out: the row, or null where the clip went. */
export type News = ReadonlyMap<string, LineupRow | null>;

/**
 * An answer is read at the server before it arrives here, and what the server tells of its own accord may overtake it. Whoever asks for clips
 * therefore notes what comes meanwhile, and believes that rather than the answer: of every later change there will be news as well.
 */
export class NewsWhileAsking {
  private readonly asking = new Set<Map<string, LineupRow | null>>();

  /** From now until `answered` is called, news is noted. */
  ask(): { answered: () => News } {
    const news = new Map<string, LineupRow | null>();
    this.asking.add(news);
    return {
      answered: () => {
        this.asking.delete(news);
        return news;
      },
    };
  }

  came(rows: readonly LineupRow[]): void {
    for (const news of this.asking) for (const row of rows) news.set(row.id, row);
  }

  went(id: string): void {
    for (const news of this.asking) news.set(id, null);
  }
}

export const clipNews = new NewsWhileAsking();
