import styled from 'styled-components';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { channelWords } from '../../parts/channelWords.ts';
import { sayTime } from '../../parts/sayTime.ts';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';

/** The sentence, what stands under it, and whatever else was noticed. */
export function BenchHead({ clip }: { clip: Clip }) {
  const { verdict, pairs, format, headline, detail, findings } = clip.inspection!;
  const others = findings.filter(({ code, message }) => code !== verdict && message !== detail);
  return (
    <Head>
      <TwinGlyph verdict={verdict} side={pairs[0]?.side} channels={format.channels} size={56} />
      <div>
        <h1>{headline}</h1>
        <Detail>{detail}</Detail>
        {format.warning && <Warning>{format.warning}</Warning>}
        {others.length > 0 && (
          <Others>{others.map((finding) => <li key={finding.code + finding.channels.join()} data-severity={finding.severity}>{finding.message}</li>)}</Others>
        )}
        <Facts>{clip.name} · {sayTime(format.durationSeconds)} · {format.sampleRate / 1000} kHz · {format.bitDepth ? `${format.bitDepth} bit` : format.codec.toUpperCase()} · {channelWords(clip)}</Facts>
      </div>
    </Head>
  );
}

const Head = styled.div`display: grid; grid-template-columns: 56px minmax(0, 1fr); gap: 20px; align-items: start; h1 { font-size: 24px; } svg { margin-top: 2px; }`;
const Detail = styled.p`color: var(--soft); max-width: 78ch; margin-top: 4px;`;
const Warning = styled.p`color: var(--look); margin-top: 4px;`;
const Others = styled.ul`
  display: flex; flex-wrap: wrap; gap: 2px 16px; margin-top: 4px; font-size: 13px;
  [data-severity='fix'] { color: var(--fix); } [data-severity='look'] { color: var(--look); } [data-severity='note'] { color: var(--soft); }
`;
const Facts = styled.p`font-size: 12px; color: var(--soft); margin-top: 6px;`;
