import styled from 'styled-components';
import { sayDepth } from '@pocket-twin/core/pcm/sayDepth.ts';
import type { Clip } from '@pocket-twin/core/schema/clip.ts';
import { channelWords } from '../../parts/channelWords.ts';
import { sayTime } from '@pocket-twin/core/time/sayTime.ts';
import { TwinGlyph } from '../../parts/TwinGlyph.tsx';

/** The sentence and what stands under it. */
export function BenchHead({ clip }: { clip: Clip }) {
  const { verdict, pairs, format, headline, detail } = clip.inspection!;
  return (
    <Head>
      <TwinGlyph verdict={verdict} side={pairs[0]?.side} channels={format.channels} size={56} />
      <div>
        <h1 tabIndex={-1}>{headline}</h1>
        <Detail>{detail}</Detail>
        {format.warning && <Warning>{format.warning}</Warning>}
        <Facts>
          {clip.name} · {sayTime(format.durationSeconds)} · {format.sampleRate / 1000} kHz ·{' '}
          {sayDepth(format.codec, format.bitDepth)} · {channelWords(format.channels, format.hasVideo)}
          {clip.joinedFrom && ` · joined from ${clip.joinedFrom.map(({ name }) => name).join(' and ')}`}
        </Facts>
      </div>
    </Head>
  );
}

const Head = styled.div`display: grid; grid-template-columns: 56px minmax(0, 1fr); gap: 20px; align-items: start; h1 { font-size: 24px; outline: none; } svg { margin-top: 2px; }`;
const Detail = styled.p`color: var(--soft); max-width: 78ch; margin-top: 4px;`;
const Warning = styled.p`color: var(--look); margin-top: 4px;`;
const Facts = styled.p`font-size: 12px; color: var(--soft); margin-top: 6px;`;
