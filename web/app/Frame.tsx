import { useQuery } from '@tanstack/react-query';
import { MagnifyingGlass } from '@phosphor-icons/react/dist/csr/MagnifyingGlass';
import { type JSX, lazy, Suspense, useState } from 'react';
import { NavLink, Outlet, useNavigate, useSearchParams, useLocation } from 'react-router';
import { listAlerts } from '../../core/wire/endpoints/alerts.js';
import { answerTo } from '../api/call.js';
import { beamSearch } from '../beam/beam.js';
import { Lamp } from '../ui/Glyphs.js';
import { useControlKey, useKeys } from '../ui/use-keys.js';
import { BeamBar } from './BeamBar.js';
import { useLive } from './live.js';
import { places } from './places.js';
import { UserMenu } from './UserMenu.js';

const FindAnything = lazy(async () => ({ default: (await import('./FindAnything.js')).FindAnything }));
const KeysHelp = lazy(async () => ({ default: (await import('./KeysHelp.js')).KeysHelp }));

/** Top bar and Beam around every place. The Beam goes along from place to place. */
export function Frame(): JSX.Element {
  const [parameters] = useSearchParams();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const [help, setHelp] = useState(false);
  const [finding, setFinding] = useState(false);
  useControlKey('k', () => setFinding(true));
  useLive();
  const alerts = useQuery(answerTo(listAlerts, { query: { state: 'open', limit: 1 } }));
  const search = beamSearch(parameters);
  useKeys({
    ...Object.fromEntries(places.map(({ path, key }) => [`g ${key}`, () => void navigate(path + search)])),
    '?': () => setHelp(true),
  });
  return (
    <>
      <header className="topbar">
        <NavLink className="topbar-brand" to={`/desk${search}`}>
          <Lamp />
          Under Lamp
        </NavLink>
        <nav aria-label="Places">
          <ul>
            {places.map(({ path, name, ...place }) => (
              <li key={path}>
                <NavLink
                  className={({ isActive }) =>
                    `place ${isActive || ('also' in place && place.also.some((one) => pathname.startsWith(one))) ? 'active' : ''}`
                  }
                  to={path + search}
                >
                  {name}
                  {path === '/alerts' && (alerts.data?.unread ?? 0) > 0 && (
                    <span className="place-count" aria-label={`${alerts.data?.unread} unread`}>
                      {alerts.data?.unread}
                    </span>
                  )}
                </NavLink>
              </li>
            ))}
          </ul>
        </nav>
        <button type="button" className="seek" onClick={() => setFinding(true)}>
          <MagnifyingGlass aria-hidden /> Search anything <kbd>Ctrl K</kbd>
        </button>
        <UserMenu onKeys={() => setHelp(true)} />
      </header>
      <BeamBar />
      <Outlet />
      {finding && (
        <Suspense fallback={null}>
          <FindAnything onClose={() => setFinding(false)} />
        </Suspense>
      )}
      {help && (
        <Suspense fallback={null}>
          <KeysHelp show onHide={() => setHelp(false)} />
        </Suspense>
      )}
    </>
  );
}
