import styled from 'styled-components';
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
      {shapeOf(verdict, side, channels)}
    </Drawing>
  );
}

function shapeOf(verdict: ClipVerdict, side: Side | null, channels: number) {
  switch (verdict) {
    case 'one-sided':
      return side === 'right' ? (
        <>
          <Dashed cx={11} />
          <circle cx={29} cy={10} r={8} fill="var(--right)" />
        </>
      ) : (
        <>
          <circle cx={11} cy={10} r={8} fill="var(--left)" />
          <Dashed cx={29} />
        </>
      );
    case 'dual-mono':
      return (
        <>
          <circle cx={22} cy={10} r={7.5} fill="none" stroke="var(--mono)" strokeWidth={1.6} />
          <circle cx={19} cy={10} r={8} fill="var(--mono)" />
        </>
      );
    case 'fake-stereo':
      return (
        <>
          <circle cx={14} cy={10} r={7.2} fill="none" stroke="var(--mono)" strokeWidth={1.6} />
          <path d="M7 10h14" stroke="var(--mono)" strokeWidth={1.6} />
          <circle cx={24} cy={10} r={8} fill="var(--mono)" />
        </>
      );
    case 'two-mics':
      return (
        <>
          <circle cx={9} cy={10} r={8} fill="var(--left)" />
          <path d="M20 1v18" stroke="var(--ink)" strokeWidth={1.8} />
          <circle cx={31} cy={10} r={8} fill="var(--right)" />
        </>
      );
    case 'stereo':
      return (
        <>
          <circle cx={15} cy={10} r={8} fill="var(--left)" fillOpacity={0.85} />
          <circle cx={25} cy={10} r={8} fill="var(--right)" fillOpacity={0.8} />
        </>
      );
    case 'silent':
      return (
        <>
          <Dashed cx={11} />
          <Dashed cx={29} />
        </>
      );
    case 'changing':
      return (
        <>
          <circle cx={15} cy={10} r={8} fill="var(--left)" fillOpacity={0.85} />
          <path d="M25 2a8 8 0 0 1 0 16" fill="var(--right)" />
          <path d="M25 2a8 8 0 0 0 0 16" fill="none" stroke="var(--soft)" strokeWidth={1.4} strokeDasharray={DASH} />
        </>
      );
    case 'mono':
      return <circle cx={20} cy={10} r={8} fill="var(--mono)" />;
    case 'multichannel': {
      const shown = Math.min(channels, 4);
      const step = 40 / (shown + 1);
      return Array.from({ length: shown }, (_, i) => (
        <circle key={i} cx={step * (i + 1)} cy={10} r={3.6} fill={i % 2 === 0 ? 'var(--left)' : 'var(--right)'} />
      ));
    }
  }
}

function Dashed({ cx }: { cx: number }) {
  return <circle cx={cx} cy={10} r={7.4} fill="none" stroke="var(--soft)" strokeWidth={1.4} strokeDasharray={DASH} />;
}

const Drawing = styled.svg`
  display: block;
  flex: none;
`;
