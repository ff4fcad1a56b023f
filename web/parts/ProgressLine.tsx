import { ProgressBar } from 'react-aria-components';
import styled from 'styled-components';

/** How far something is; without a share it only says that it is under way. */
export function ProgressLine({ label, share }: { label: string; share: number | undefined }) {
  const percent = Math.round((share ?? 0) * 100);
  return (
    <ProgressBar aria-label={label} value={percent} isIndeterminate={share === undefined}>
      <Row>
        <Track>
          <Filled style={{ width: `${percent}%` }} />
        </Track>
        <span className="numeric">{share === undefined ? '' : `${percent} %`}</span>
      </Row>
    </ProgressBar>
  );
}

const Row = styled.div`display: flex; align-items: center; gap: 8px; span { font-size: 12px; color: var(--soft); min-width: 5ch; }`;
const Track = styled.div`flex: 1; min-width: 80px; max-width: 220px; height: 6px; border-radius: 3px; background: var(--line); overflow: hidden;`;
const Filled = styled.div`height: 100%; background: var(--mono); transition: width 120ms;`;
