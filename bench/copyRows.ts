import pg from 'pg';
import type { Application } from '../e2e/application.ts';

/** Rows for the lineup without measuring each: the measured ones over and over, a fourth of them as stereo, in forty setups. */
export async function copyRows(app: Application, projectId: string, rows: number): Promise<void> {
  const client = new pg.Client({ connectionString: app.databaseUrl() });
  await client.connect();
  await client.query(
    `
    with t as (insert into setups (id, "projectId", name, explanation, roles, intake, "createdAt", verdict)
        select gen_random_uuid(), $1, 'Setup ' || g, 'names', '[]', 'stereo-pair', now(), 'one-sided' from generate_series(1, 40) g returning id),
      n as (select id, row_number() over () as k from t),
      c as (select *, row_number() over () as r from clips where state = 'ready' and summary->>'verdict' = 'one-sided')
    insert into clips (id, "projectId", name, bytes, "sourcePath", state, inspection, pcm, sketch, "stepsKept", "createdAt", summary, facts, "setupId")
    select gen_random_uuid(), $1, 'take-' || g || '.wav', c.bytes, c."sourcePath", 'ready', c.inspection, c.pcm, c.sketch, 0, now(),
      case when g % 4 = 0 then c.summary || '{"verdict": "stereo", "side": null, "severity": null, "suggestion": {"action": "none", "name": null}}' else c.summary end, c.facts, n.id
    from generate_series(1, ${rows}) g join c on c.r = 1 + g % (select count(*) from c) join n on n.k = 1 + g * 40 / ${rows + 1}`,
    [projectId],
  );
  await client.end();
}
