import { useState } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { type Link, useLive } from '../api/live.ts';
import { BenchPage } from '../features/bench/BenchPage.tsx';
import { FloorPage } from '../features/floor/FloorPage.tsx';
import { IntakePage } from '../features/intake/IntakePage.tsx';
import { ShelfPage } from '../features/shelf/ShelfPage.tsx';
import { MediaPage } from '../features/media/MediaPage.tsx';
import { SetupPage } from '../features/setup/SetupPage.tsx';
import { Finder } from './Finder.tsx';
import { KeysHelp } from './KeysHelp.tsx';
import { Rail } from './Rail.tsx';
import { ShopTimeContext } from './shopTime.ts';
import { useGlobalKeys } from './useGlobalKeys.ts';
import { NoticeProvider } from './notice.tsx';
import { StorageBanner } from './StorageBanner.tsx';
import { Wire } from './Wire.tsx';

/**
 * The shell: the rail, the view, the wire below, and what is heard from the server for as long as the page is open.
 */
export function App() {
  const { link, time } = useLive();
  return (
    <ShopTimeContext.Provider value={time}>
      {/* Lists that were read before the live line stood could be out of date without anybody noticing. */}
      <NoticeProvider>{link === 'connecting' ? <Opening /> : <Shell link={link} />}</NoticeProvider>
    </ShopTimeContext.Provider>
  );
}

function Opening() {
  return <p className="sr-only">Connecting to the server</p>;
}

/** What is always there: the rail at the left, the wire below, and what lies over the page when it is called. */
function Shell({ link }: { readonly link: Link }) {
  const [finding, setFinding] = useState(false);
  const [helping, setHelping] = useState(false);
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
      <div className="flex h-full flex-col">
        <StorageBanner />
        <div className="grid min-h-0 flex-1 grid-cols-[76px_minmax(0,1fr)] grid-rows-[minmax(0,1fr)_34px]">
          <Rail
            onFind={() => {
              setFinding(true);
            }}
            onHelp={() => {
              setHelping(true);
            }}
          />
          <main className="min-h-0 min-w-0 overflow-hidden">
            <Routes>
              <Route path="/" element={<Navigate to="/floor" replace />} />
              <Route path="/floor" element={<FloorPage />} />
              <Route path="/intake" element={<IntakePage />} />
              <Route path="/bench" element={<BenchPage />} />
              <Route path="/bench/:runId" element={<BenchPage />} />
              <Route path="/media" element={<MediaPage />} />
              <Route path="/shelf" element={<ShelfPage />} />
              <Route path="/setup" element={<SetupPage />} />
              <Route path="*" element={<Lost />} />
            </Routes>
          </main>
          <Wire link={link} />
        </div>
      </div>
      <Finder
        open={finding}
        onClose={() => {
          setFinding(false);
        }}
      />
      <KeysHelp
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
