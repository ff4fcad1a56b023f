import styled from 'styled-components';
import type { GlyphPart } from '@pocket-twin/core/diagnose/catalogue/entry.ts';
import { VERDICTS } from '@pocket-twin/core/diagnose/catalogue/verdicts.ts';
import type { ClipVerdict, Side } from '@pocket-twin/core/schema/verdict.ts';

interface TwinGlyphProps {
  verdict: ClipVerdict;
  side?: Side | null;
  /** Only for more than two channels. */
  channels?: number;
  size?: number;
}

const DASH = '2.2 2.4';

/**
 * Two discs: how they stand together is the verdict. Shape carries it, colour only helps; the
 * words stand beside it, so it is hidden from screen readers.
 */
export function TwinGlyph({ verdict, side = null, channels = 4, size = 36 }: TwinGlyphProps) {
  return (
    <Drawing width={size} height={size / 2} viewBox="0 0 40 20" aria-hidden="true" data-verdict={verdict}>
      {VERDICTS[verdict].glyph(side, channels).map((part, i) => (
        <Part key={i} part={part} />
      ))}
    </Drawing>
  );
}

function Part({ part }: { part: GlyphPart }) {
  const colour = `var(--${part.ink})`;
  if ('disc' in part) return <circle cx={part.disc} cy={10} r={part.radius} fill={colour} fillOpacity={part.opacity} />;
  if ('path' in part && part.filled) return <path d={part.path} fill={colour} />;
  const line = {
    fill: 'none',
    stroke: colour,
    strokeWidth: part.dashed ? 1.4 : 1.6,
    strokeDasharray: part.dashed ? DASH : undefined,
  };
  return 'path' in part ? (
    <path d={part.path} {...line} />
  ) : (
    <circle cx={part.ring} cy={10} r={part.radius} {...line} />
  );
}

const Drawing = styled.svg`
  display: block;
  flex: none;
`;
