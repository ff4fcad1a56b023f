import { Moon, Sun } from 'lucide-react';
import type { ReactNode } from 'react';
import { Link } from 'react-aria-components';
import styled from 'styled-components';
import { appearanceChosen } from '../state/appearanceSlice.ts';
import { useAppDispatch } from '../state/store.ts';
import type { Place } from './places.ts';
import { Button } from '../parts/Button.tsx';

interface TopBarProps {
  projectName?: string;
  places?: Place[];
  children?: ReactNode;
}

/** Where you are, where you can go, and at the right end what this screen offers. */
export function TopBar({ projectName, places = [], children }: TopBarProps) {
  return (
    <Bar>
      <Home href="/" aria-label="Pocket Twin, all projects">
        <Mark viewBox="0 0 40 24" width={34} height={20} aria-hidden="true">
          <circle cx={13} cy={12} r={10} fill="var(--left)" />
          <circle cx={27} cy={12} r={10} fill="var(--right)" />
          <path d="M20 4.9a10 10 0 0 1 0 14.2a10 10 0 0 1 0-14.2z" fill="var(--ink)" />
        </Mark>
        Pocket Twin
      </Home>
      {projectName && <ProjectName title={projectName}>{projectName}</ProjectName>}
      <nav aria-label="Screens">
        <Places>
          {places.map(({ name, to, count, current }) => (
            <li key={name}>
              <PlaceLink href={to} aria-current={current ? 'page' : undefined}>
                {name}
                {count !== undefined && <span className="numeric">{count}</span>}
              </PlaceLink>
            </li>
          ))}
        </Places>
      </nav>
      <Ends>
        {children}
        <NightSwitch />
      </Ends>
    </Bar>
  );
}

function NightSwitch() {
  const dispatch = useAppDispatch();
  const isNight = (): boolean => getComputedStyle(document.documentElement).colorScheme === 'dark';
  return (
    <Button
      kind="quiet"
      aria-label="Day or night"
      onPress={() => dispatch(appearanceChosen(isNight() ? 'day' : 'night'))}
    >
      <Sun size={16} className="sun" aria-hidden="true" />
      <Moon size={16} className="moon" aria-hidden="true" />
    </Button>
  );
}

const Bar = styled.header`
  display: flex; align-items: center; gap: 20px; height: 52px; padding: 0 16px 0 20px; flex: none;
  background: var(--sheet); border-bottom: 1px solid var(--line);
  @media (max-width: 1100px) { gap: 12px; }
  @media (max-width: 900px) { height: auto; min-height: 52px; flex-wrap: wrap; gap: 4px 12px; padding: 4px 12px; }
  .sun { display: none; }
  :root[data-theme='night'] & { .sun { display: block; } .moon { display: none; } }
  @media (prefers-color-scheme: dark) { :root:not([data-theme='day']) & { .sun { display: block; } .moon { display: none; } } }
`;
const Home = styled(Link)`
  display: flex; align-items: center; gap: 10px; text-decoration: none; white-space: nowrap;
  font: 700 17px 'Bricolage Grotesque Variable', sans-serif;
`;
const Mark = styled.svg`flex: none;`;
const ProjectName = styled.span`color: var(--soft); overflow: hidden; text-overflow: ellipsis; white-space: nowrap; max-width: 28ch;`;
const Places = styled.ul`display: flex; gap: 4px;`;
const PlaceLink = styled(Link)`
  display: inline-flex; gap: 8px; align-items: center; padding: 7px 13px; border-radius: 99px; text-decoration: none; font-weight: 600; color: var(--soft);
  span { font-size: 12px; }
  &[data-hovered] { color: var(--ink); }
  &[aria-current='page'] { background: var(--button); color: var(--button-text); }
`;
const Ends = styled.div`margin-left: auto; display: flex; align-items: center; gap: 8px; white-space: nowrap; @media (max-width: 900px) { flex-wrap: wrap; gap: 2px; }`;
