import { lazy, useEffect, useState } from 'react';
import { QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider, Spin } from 'antd';
import { BrowserRouter, Navigate, Route, Routes } from 'react-router';
import { queryClient, useSession } from './api/queries.js';
import { Blank } from './shell/Blank.js';
import { Shell } from './shell/Shell.js';
import { FirstPassword } from './shell/FirstPassword.js';
import { SignIn } from './shell/SignIn.js';
import { dark, light } from './theme.js';

const ExercisesPage = lazy(() =>
  import('./exercises/ExercisesPage.js').then((m) => ({ default: m.ExercisesPage })),
);
const ExercisePage = lazy(() =>
  import('./exercises/ExercisePage.js').then((m) => ({ default: m.ExercisePage })),
);
const BenchPage = lazy(() => import('./bench/BenchPage.js').then((m) => ({ default: m.BenchPage })));
const SlipPage = lazy(() => import('./slip/SlipPage.js').then((m) => ({ default: m.SlipPage })));
const ComparePage = lazy(() => import('./slip/ComparePage.js').then((m) => ({ default: m.ComparePage })));
const PlateRoomPage = lazy(() =>
  import('./plate/PlateRoomPage.js').then((m) => ({ default: m.PlateRoomPage })),
);
const MarkBookPage = lazy(() => import('./marks/MarkBookPage.js').then((m) => ({ default: m.MarkBookPage })));

const SearchPage = lazy(() => import('./faults/SearchPage.js').then((m) => ({ default: m.SearchPage })));
const FaultDeskPage = lazy(() =>
  import('./faults/FaultDeskPage.js').then((m) => ({ default: m.FaultDeskPage })),
);
const DiagnosePage = lazy(() =>
  import('./faults/DiagnosePage.js').then((m) => ({ default: m.DiagnosePage })),
);

const SetterHome = lazy(() => import('./setter/SetterHome.js').then((m) => ({ default: m.SetterHome })));
const SetterPage = lazy(() => import('./setter/SetterPage.js').then((m) => ({ default: m.SetterPage })));
const FloorPage = lazy(() => import('./floor/FloorPage.js').then((m) => ({ default: m.FloorPage })));
const ClassesPage = lazy(() => import('./classes/ClassesPage.js').then((m) => ({ default: m.ClassesPage })));
const CollegePage = lazy(() => import('./classes/CollegePage.js').then((m) => ({ default: m.CollegePage })));
const RecordPage = lazy(() => import('./marks/RecordPage.js').then((m) => ({ default: m.RecordPage })));
const TroublesPage = lazy(() => import('./marks/TroublesPage.js').then((m) => ({ default: m.TroublesPage })));

const DARK_KEY = 'contactum.dark';

/** Theme, data and addresses around everything. */
export function Root() {
  const [isDark, setDark] = useState(() => localStorage.getItem(DARK_KEY) === 'yes');
  useEffect(() => {
    localStorage.setItem(DARK_KEY, isDark ? 'yes' : 'no');
    document.documentElement.dataset.theme = isDark ? 'dark' : 'light';
  }, [isDark]);
  return (
    <ConfigProvider theme={isDark ? dark : light}>
      <AntApp className="app">
        <QueryClientProvider client={queryClient}>
          <BrowserRouter>
            <Places isDark={isDark} onDark={() => setDark((now) => !now)} />
          </BrowserRouter>
        </QueryClientProvider>
      </AntApp>
    </ConfigProvider>
  );
}

function Places({ isDark, onDark }: { isDark: boolean; onDark: () => void }) {
  const session = useSession();
  if (session.isPending) return <Spin className="waiting" aria-label="Opening Contactum" />;
  if (session.isError)
    return (
      <Blank title="The server cannot be reached.">Check that it is running, then reload this page.</Blank>
    );
  const person = session.data;
  if (!person) return <SignIn />;
  if (person.mustSetPassword) return <FirstPassword person={person} />;
  const instructor = person.role !== 'student';
  return (
    <Routes>
      <Route element={<Shell person={person} dark={isDark} onDark={onDark} />}>
        <Route index element={<Navigate to="/exercises" replace />} />
        <Route path="exercises" element={<ExercisesPage person={person} />} />
        <Route path="plate" element={<PlateRoomPage />} />
        <Route path="slip/:id" element={<SlipPage person={person} />} />
        <Route path="search/:id" element={<SearchPage />} />
        <Route path="diagnose/:id" element={<DiagnosePage />} />
        {instructor && <Route path="faults" element={<FaultDeskPage person={person} />} />}
        {instructor && <Route path="exercises/:id" element={<ExercisePage />} />}
        {instructor && <Route path="compare/:id" element={<ComparePage />} />}
        {instructor && <Route path="marks/:classId?" element={<MarkBookPage />} />}
        {instructor && <Route path="marks/:classId/:studentId" element={<RecordPage />} />}
        {instructor && <Route path="troubles" element={<TroublesPage />} />}
        {instructor && <Route path="setter" element={<SetterHome />} />}
        {instructor && <Route path="setter/:id" element={<SetterPage />} />}
        {instructor && <Route path="floor/:classId?" element={<FloorPage />} />}
        {instructor && <Route path="classes/:classId?" element={<ClassesPage person={person} />} />}
        {instructor && <Route path="college" element={<CollegePage person={person} />} />}
        {!instructor && <Route path="bench/:id" element={<BenchPage person={person} />} />}
        <Route
          path="*"
          element={
            <Blank
              title="There is nothing at this address."
              act={{ text: 'To the exercises', to: '/exercises' }}
            />
          }
        />
      </Route>
    </Routes>
  );
}
