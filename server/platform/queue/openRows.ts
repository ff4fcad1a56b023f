// Rows that wait for a job and have none. The queue's own table tells of live jobs by their queue and, in their data, the row's id.

/** SQL: no live job of a queue has this value under a key of its data. */
export function nobodyIsAt(queue: string, key: string, value: string): string {
  return `not exists (select 1 from queue.job j where j.name = '${queue}' and j.state in ('created', 'retry', 'active') and j.data->>'${key}' = ${value}::text)`;
}
