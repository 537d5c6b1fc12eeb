import { useEffect, useRef, useState } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { useSWRConfig } from 'swr';
import { type Link, useLive } from '../api/live.ts';
import { AwayPage } from '../features/away/AwayPage.tsx';
import { MorningPage } from '../features/away/MorningPage.tsx';
import { BenchPage } from '../features/bench/BenchPage.tsx';
import { ChannelsPage } from '../features/bench/channels/ChannelsPage.tsx';
import { ColourPage } from '../features/intake/colour/ColourPage.tsx';
import { DayListPage } from '../features/floor/DayList.tsx';
import { FloorPage } from '../features/floor/FloorPage.tsx';
import { HeadsPage } from '../features/heads/HeadsPage.tsx';
import { IntakePage } from '../features/intake/IntakePage.tsx';
import { MePage } from '../features/me/MePage.tsx';
import { ShelfPage } from '../features/shelf/ShelfPage.tsx';
import { StoryPage } from '../features/story/StoryPage.tsx';
import { PacePage } from '../features/pace/PacePage.tsx';
import { QuotePage } from '../features/pace/quote/QuotePage.tsx';
import { WhatIfPage } from '../features/pace/whatif/WhatIfPage.tsx';
import { MediaPage } from '../features/media/MediaPage.tsx';
import { WhichSpoolPage } from '../features/media/which/WhichSpoolPage.tsx';
import { RotaPage } from '../features/rota/RotaPage.tsx';
import { SetupPage } from '../features/setup/SetupPage.tsx';
import { Finder } from './find/Finder.tsx';
import { HelpDialog } from './HelpDialog.tsx';
import { Guide } from './Guide.tsx';
import { Rail } from './Rail.tsx';
import { ShopTimeContext } from './shopTime.ts';
import { useGlobalKeys } from './useGlobalKeys.ts';
import { NoticeProvider } from './notice.tsx';
import { AlertLine } from './alerts/AlertLine.tsx';
import { AlertsContext, useWatchedAlerts } from './alerts/useAlerts.ts';
import { StorageBanner } from './StorageBanner.tsx';
import { useGoToField } from './find/useGoToField.ts';
import { useKeptFocus } from './useKeptFocus.ts';
import { usePreferences } from '../ui/preferences.ts';
import { useTitle } from './useTitle.ts';
import { Wire } from './Wire.tsx';

/**
 * The shell: the rail, the view, the wire below, and what is heard from the server for as long as the page is open.
 */
export function App() {
  const { link, time } = useLive();
  return (
    <ShopTimeContext.Provider value={time}>
      {/* Lists that were read before the live line stood could be out of date without anybody noticing. */}
      <NoticeProvider>{link === 'connecting' ? <Opening /> : <Watched link={link} />}</NoticeProvider>
    </ShopTimeContext.Provider>
  );
}

function Opening() {
  return <p className="sr-only">Connecting to the server</p>;
}

/** The shell, and what watches over the printers whatever view is open. */
function Watched({ link }: { readonly link: Link }) {
  const alerts = useWatchedAlerts();
  return (
    <AlertsContext.Provider value={alerts}>
      <Shell link={link} />
    </AlertsContext.Provider>
  );
}

/** What is always there: the rail at the left, the wire below, and what lies over the page when it is called. */
function Shell({ link }: { readonly link: Link }) {
  const [finding, setFinding] = useState(false);
  const [helping, setHelping] = useState(false);
  // Every text on the page is made anew when a person reads it otherwise; what lies over the page stays.
  const { units, locale } = usePreferences();
  const { mutate } = useSWRConfig();
  const asked = useRef(`${units} ${locale}`);
  useEffect(() => {
    // What came before carries its lengths as they were chosen then.
    if (asked.current === `${units} ${locale}`) return;
    asked.current = `${units} ${locale}`;
    void mutate(() => true);
  }, [units, locale, mutate]);
  useTitle();
  useKeptFocus();
  useGoToField();
  useGlobalKeys({
    find: () => {
      setFinding(true);
    },
    help: () => {
      setHelping(true);
    },
  });
  return (
    <>
      <a
        href="#view"
        className="sr-only focus:not-sr-only focus:absolute focus:top-2 focus:left-2 focus:z-50 focus:rounded-md focus:bg-card focus:px-3 focus:py-2 focus:outline-2"
      >
        Skip to the view
      </a>
      <div key={`${units} ${locale}`} className="flex h-full flex-col">
        <StorageBanner />
        <AlertLine />
        <div className="grid min-h-0 flex-1 grid-cols-[76px_minmax(0,1fr)] grid-rows-[minmax(0,1fr)_34px] max-phone:grid-cols-[minmax(0,1fr)] max-phone:grid-rows-[minmax(0,1fr)_auto_auto] print:block">
          <Rail
            onFind={() => {
              setFinding(true);
            }}
            onHelp={() => {
              setHelping(true);
            }}
          />
          <main id="view" tabIndex={-1} className="relative min-h-0 min-w-0 overflow-hidden outline-none">
            <Routes>
              <Route path="/" element={<Navigate to="/floor" replace />} />
              <Route path="/floor" element={<FloorPage />} />
              <Route path="/day-list/:printerId" element={<DayListPage />} />
              <Route path="/intake" element={<IntakePage />} />
              <Route path="/intake/:jobId/colour" element={<ColourPage />} />
              <Route path="/bench" element={<BenchPage />} />
              <Route path="/bench/:runId" element={<BenchPage />} />
              <Route path="/bench/:runId/channels" element={<ChannelsPage />} />
              <Route path="/rota" element={<RotaPage />} />
              <Route path="/rota/away" element={<AwayPage />} />
              <Route path="/rota/away/:awayId" element={<MorningPage />} />
              <Route path="/heads" element={<HeadsPage />} />
              <Route path="/pace" element={<PacePage />} />
              <Route path="/pace/what-if" element={<WhatIfPage />} />
              <Route path="/pace/quote" element={<QuotePage />} />
              <Route path="/story/:kind/:id" element={<StoryPage />} />
              <Route path="/media" element={<MediaPage />} />
              <Route path="/media/spools" element={<WhichSpoolPage />} />
              <Route path="/shelf" element={<ShelfPage />} />
              <Route path="/setup" element={<SetupPage />} />
              <Route path="/me" element={<MePage />} />
              <Route path="*" element={<Lost />} />
            </Routes>
          </main>
          <Wire link={link} />
        </div>
      </div>
      <Guide />
      <Finder
        open={finding}
        onClose={() => {
          setFinding(false);
        }}
      />
      <HelpDialog
        open={helping}
        onClose={() => {
          setHelping(false);
        }}
      />
    </>
  );
}

function Lost() {
  return (
    <div className="p-8">
      <h1 className="text-lg font-semibold">There is no such page</h1>
      <p className="mt-2 text-soft">Press / to find a job, a run or a printer, or choose a view on the left.</p>
    </div>
  );
}
