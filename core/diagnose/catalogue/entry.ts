import type { ChannelReport, PairReport, Section, Suggestion } from '../../schema/inspection.ts';
import type { ShortLoss } from '../../measure/measurement.ts';
import type { Severity, Side } from '../../schema/verdict.ts';

/** Two sentences at the head of an inspection. */
export interface Sentences {
  headline: string;
  detail: string;
}

/** What probably happened, and how to record it right next time. null where there is nothing to explain. */
export interface Cause {
  cause: string | null;
  advice: string | null;
}

/** What is noticed, where it is noticed. */
export interface Noticed {
  severity: Severity;
  channels: number[];
  message: string;
  /** Where it begins other than what it is noticed in. */
  startSeconds?: number;
}

/** The views that can speak for a verdict. */
export type EvidenceName = 'spoken' | 'balance' | 'null' | 'arrival' | 'spectrum' | 'scope';

/** How pressing a verdict is by itself. */
export type Tone = 'fix' | 'look' | 'fine';

type Ink = 'left' | 'right' | 'mono' | 'ink' | 'soft';

/** Part of the twin glyph, drawn on 40 by 20: a disc, a line around one, or a path. */
export type GlyphPart =
  | { disc: number; radius: number; ink: Ink; opacity?: number }
  | { ring: number; radius: number; ink: Ink; dashed?: boolean }
  | { path: string; ink: Ink; filled?: boolean; dashed?: boolean };

/** What a verdict on a pair of channels is told from. */
export interface PairFacts {
  pair: PairReport;
  reports: ChannelReport[];
  /** The clip's, where there is one pair. */
  sections: Section[];
  /** Moments of under a second in which a side is lost. */
  losses: readonly ShortLoss[];
  sampleRate: number;
  /** Speech is heard, not only sound. */
  speech: boolean;
  /** The channel where speech is closest and cleanest. */
  clearest: number | null;
}

/** Everything that is said and shown of a verdict on a whole clip. */
export interface ClipVerdictEntry {
  /** In a word or two, alone. */
  label: string;
  tone: Tone;
  glyph: (side: Side | null, channels: number) => GlyphPart[];
  /** What clips of a setup have in common: "right side empty in all". */
  inSetup: (side: Side | null) => string;
}

/** And of a verdict on a pair. */
export interface PairVerdictEntry extends ClipVerdictEntry {
  /** Of a part of a clip: "from 6.0 s left side only". */
  inSections: (side: Side | null) => string;
  sentences: (facts: PairFacts) => Sentences;
  /** What stands among the findings for each part of this verdict; null where there is nothing to point at. */
  finding: (facts: PairFacts, section: Section) => Noticed | null;
  /** Likely, not proven: the sound alone can't tell who turned which switch. */
  cause: (pair: PairReport) => Cause;
  /** What to do, where the verdict is sure enough. Never throws away programme. */
  suggestion: (facts: PairFacts) => Suggestion;
  /** Open at first on the bench; the other views are a press away. */
  evidence: (pair: PairReport) => EvidenceName[];
}

export function suggest(
  action: Suggestion['action'],
  reason: string,
  from: number | null = null,
  to: number[] = [],
): Suggestion {
  return { action, from, to, reason };
}
