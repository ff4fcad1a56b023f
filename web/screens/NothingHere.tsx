import { Link } from 'react-aria-components';
import { Body, Screen, Soft } from '../parts/Screen.tsx';

/** For an address that leads nowhere, and for what a screen could not survive. */
export function NothingHere() {
  return (
    <Screen>
      <Body>
        <h1>There is nothing at this address.</h1>
        <Soft>
          The project or clip may have been removed. <Link href="/">See all projects</Link>
        </Soft>
      </Body>
    </Screen>
  );
}
