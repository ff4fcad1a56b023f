import type { StandingFacts } from '@pocket-twin/core/lineup/standing.ts';
import type { ClipState } from '@pocket-twin/core/schema/clip.ts';
import type { Severity, SuggestedAction } from '@pocket-twin/core/schema/verdict.ts';

/** Clips (c) with the repair step that is in force (s) and what a list needs of their inspection (x), unpacked once. */
export const FROM_CLIPS = `
  from clips c left join repair_steps s on s."clipId" = c.id and s.position = c."stepsKept"
  left join lateral jsonb_to_record(c.summary) as x(verdict text, side text, severity text, headline text, fact text, cause text, "durationSeconds" float8, "sampleRate" float8,
    channels jsonb, "balanceLu" float8, suggestion jsonb) on true`;

// The last writing counts only where it wrote the repair that is kept now.
const LAST_WRITING = (what: string): string => `
  (select ${what} from writings w where w."clipId" = c.id and w.repair = s.repair order by w."createdAt" desc limit 1)`;

// A handoff wrote the repair that is kept now, and proved it.
const HANDED_OFF = `
  exists (select 1 from handoff_files f where f."clipId" = c.id and f.state = 'done' and f.repair = s.repair)`;

/** What decides where a clip stands, and how pressing it is. */
export const STANDING_COLUMNS = `
  c.state, x.severity, x.verdict, x.suggestion->>'action' as action, x.suggestion->>'name' as name, s.id is not null as kept,
  case when s.id is null then false else coalesce(${LAST_WRITING(`w.state = 'done'`)}, false) or ${HANDED_OFF} end as verified`;

/** Written, and found to differ when it was read back. */
export const READ_BACK_DIFFERS = `
  case when s.id is null then false else coalesce(${LAST_WRITING(`w.state = 'failed' and w.receipt is not null and w.receipt <> 'null'::jsonb`)}, false) end as "readBackDiffers"`;

export interface StandingColumns {
  state: ClipState;
  severity: Severity | null;
  action: SuggestedAction | null;
  name: string | null;
  kept: boolean;
  verified: boolean;
}

export function standingFactsOf({ state, action, name, kept, verified }: StandingColumns): StandingFacts {
  return { state, suggestion: action === null ? null : { action, name }, kept, verified };
}
