import { Suspense, lazy, useEffect, useState } from 'react';
import { QueryClientProvider } from '@tanstack/react-query';
import { ConfigProvider, Spin } from 'antd';
import { BrowserRouter, Navigate, Route, Routes, useLocation } from 'react-router';
import { queryClient, rememberedPerson, useSession } from './api/queries.js';
import { Blank } from './shell/Blank.js';
import { Shell } from './shell/Shell.js';
import { ToastPlace } from './shell/toasts.js';
import { dark, light } from './theme.js';

const SignIn = lazy(() => import('./shell/SignIn.js').then((m) => ({ default: m.SignIn })));
const FirstPassword = lazy(() =>
  import('./shell/FirstPassword.js').then((m) => ({ default: m.FirstPassword })),
);

const ExercisesPage = lazy(() =>
  import('./exercises/ExercisesPage.js').then((m) => ({ default: m.ExercisesPage })),
);
const ExercisePage = lazy(() =>
  import('./exercises/ExercisePage.js').then((m) => ({ default: m.ExercisePage })),
);
const QuestionsPage = lazy(() =>
  import('./questions/QuestionsPage.js').then((m) => ({ default: m.QuestionsPage })),
);
const DraftQuestionsPage = lazy(() =>
  import('./questions/QuestionsPage.js').then((m) => ({ default: m.DraftQuestionsPage })),
);
const AnswerPage = lazy(() => import('./questions/AnswerPage.js').then((m) => ({ default: m.AnswerPage })));
const BenchPage = lazy(() => import('./bench/BenchPage.js').then((m) => ({ default: m.BenchPage })));
const SlipPage = lazy(() => import('./slip/SlipPage.js').then((m) => ({ default: m.SlipPage })));
const ComparePage = lazy(() => import('./slip/ComparePage.js').then((m) => ({ default: m.ComparePage })));
const PlateRoomPage = lazy(() =>
  import('./plate/PlateRoomPage.js').then((m) => ({ default: m.PlateRoomPage })),
);
const PartsPage = lazy(() => import('./parts/PartsPage.js').then((m) => ({ default: m.PartsPage })));
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
const CheckPage = lazy(() => import('./marks/CheckPage.js').then((m) => ({ default: m.CheckPage })));
const RecordPage = lazy(() => import('./marks/RecordPage.js').then((m) => ({ default: m.RecordPage })));
const SkillsPage = lazy(() => import('./marks/SkillsPage.js').then((m) => ({ default: m.SkillsPage })));
const SkillsMapPage = lazy(() =>
  import('./marks/SkillsMapPage.js').then((m) => ({ default: m.SkillsMapPage })),
);
const TroublesPage = lazy(() => import('./marks/TroublesPage.js').then((m) => ({ default: m.TroublesPage })));

const ExercisePaperPage = lazy(() =>
  import('./paper/PaperPage.js').then((m) => ({ default: m.ExercisePaperPage })),
);
const WiredPaperPage = lazy(() =>
  import('./paper/PaperPage.js').then((m) => ({ default: m.WiredPaperPage })),
);
const SheetsPage = lazy(() => import('./sheets/SheetsPage.js').then((m) => ({ default: m.SheetsPage })));
const SheetPage = lazy(() => import('./sheets/SheetPage.js').then((m) => ({ default: m.SheetPage })));
const TrainerBoardsPage = lazy(() =>
  import('./sheets/TrainerBoardsPage.js').then((m) => ({ default: m.TrainerBoardsPage })),
);
const LogbookPage = lazy(() => import('./sheets/LogbookPage.js').then((m) => ({ default: m.LogbookPage })));

const AssessmentsPage = lazy(() =>
  import('./assessments/AssessmentsPage.js').then((m) => ({ default: m.AssessmentsPage })),
);
const SetAssessmentPage = lazy(() =>
  import('./assessments/SetAssessmentPage.js').then((m) => ({ default: m.SetAssessmentPage })),
);
const AssessmentPage = lazy(() =>
  import('./assessments/AssessmentPage.js').then((m) => ({ default: m.AssessmentPage })),
);
const SitPage = lazy(() => import('./assessments/SitPage.js').then((m) => ({ default: m.SitPage })));

const LaunchPage = lazy(() => import('./doors/LaunchPage.js').then((m) => ({ default: m.LaunchPage })));
const PickPage = lazy(() => import('./doors/PickPage.js').then((m) => ({ default: m.PickPage })));

const HelpPage = lazy(() => import('./help/HelpPage.js').then((m) => ({ default: m.HelpPage })));

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
      <div className="app">
        <ToastPlace>
          <QueryClientProvider client={queryClient}>
            <BrowserRouter>
              <Suspense fallback={<Spin className="waiting" aria-label="Opening Contactum" />}>
                <Places isDark={isDark} onDark={() => setDark((now) => !now)} />
              </Suspense>
            </BrowserRouter>
          </QueryClientProvider>
        </ToastPlace>
      </div>
    </ConfigProvider>
  );
}

function Places({ isDark, onDark }: { isDark: boolean; onDark: () => void }) {
  const session = useSession();
  const isCheck = useLocation().pathname === '/check';
  if (session.isPending) return <Spin className="waiting" aria-label="Opening Contactum" />;
  if (session.isError) return <Unreached />;
  const person = session.data;
  if (isCheck) return <CheckPage />;
  if (!person) return <SignIn />;
  if (person.mustSetPassword) return <FirstPassword person={person} />;
  const instructor = person.role !== 'student';
  return (
    <Routes>
      <Route element={<Shell person={person} dark={isDark} onDark={onDark} />}>
        <Route index element={<Navigate to="/exercises" replace />} />
        <Route path="exercises" element={<ExercisesPage person={person} />} />
        <Route path="help" element={<HelpPage person={person} />} />
        <Route path="plate" element={<PlateRoomPage />} />
        <Route path="parts/:type?" element={<PartsPage />} />
        <Route path="slip/:id" element={<SlipPage person={person} />} />
        <Route path="sheets" element={<SheetsPage person={person} />} />
        {doorsFor(instructor)}
        <Route path="sheets/:id" element={<SheetPage person={person} />} />
        {!instructor && <Route path="logbook" element={<LogbookPage />} />}
        <Route path="search/:id" element={<SearchPage />} />
        <Route path="diagnose/:id" element={<DiagnosePage />} />
        {instructor && <Route path="faults" element={<FaultDeskPage person={person} />} />}
        {instructor && <Route path="exercises/:id" element={<ExercisePage />} />}
        {instructor && <Route path="exercises/:id/questions" element={<QuestionsPage />} />}
        {instructor && <Route path="compare/:id" element={<ComparePage />} />}
        {instructor && <Route path="marks/:classId?" element={<MarkBookPage />} />}
        {!instructor && <Route path="skills" element={<SkillsPage />} />}
        {instructor && <Route path="marks/:classId/skills" element={<SkillsMapPage />} />}
        {instructor && <Route path="marks/:classId/:studentId" element={<RecordPage />} />}
        {instructor && <Route path="troubles" element={<TroublesPage />} />}
        {instructor && <Route path="setter" element={<SetterHome />} />}
        {instructor && <Route path="setter/:id" element={<SetterPage />} />}
        {instructor && <Route path="setter/:id/questions" element={<DraftQuestionsPage />} />}
        {instructor && <Route path="floor/:classId?" element={<FloorPage />} />}
        {instructor && <Route path="classes/:classId?" element={<ClassesPage person={person} />} />}
        {instructor && <Route path="college" element={<CollegePage person={person} />} />}
        <Route path="assessments/:classId?" element={<AssessmentsPage person={person} />} />
        {instructor && <Route path="assessments/:classId/new" element={<SetAssessmentPage />} />}
        {instructor && <Route path="assessment/:id" element={<AssessmentPage person={person} />} />}
        {!instructor && <Route path="sit/:id" element={<SitPage />} />}
        {!instructor && <Route path="answer/:id" element={<AnswerPage person={person} />} />}
        {!instructor && <Route path="bench/:id" element={<BenchPage person={person} />} />}
        <Route
          path="*"
          element={
            <Blank
              title="There is nothing at this address."
              act={{ text: 'Go to the exercises', to: '/exercises' }}
            />
          }
        />
      </Route>
    </Routes>
  );
}

/** Pages to which links of a course lead, the college's trainer boards, and paper. */
const doorsFor = (instructor: boolean) =>
  instructor ? (
    <>
      <Route path="sheets/boards" element={<TrainerBoardsPage />} />
      <Route path="pick/:id" element={<PickPage />} />
      <Route path="paper/:id" element={<ExercisePaperPage />} />
      <Route path="paper/wired/:id" element={<WiredPaperPage />} />
    </>
  ) : (
    <Route path="launch/:id" element={<LaunchPage />} />
  );

/** Without the server: bench sheets are entered all the same, by who was signed in here last. */
function Unreached() {
  const person = rememberedPerson();
  const again = (
    <Blank title="The server cannot be reached.">Check that it is running, then reload this page.</Blank>
  );
  if (!person) return again;
  return (
    <Suspense fallback={<Spin className="waiting" />}>
      <Routes>
        <Route path="sheets" element={<SheetsPage person={person} offline />} />
        <Route path="sheets/:id" element={<SheetPage person={person} offline />} />
        <Route
          path="*"
          element={
            <Blank
              title="The server cannot be reached."
              act={{ text: 'Go to the bench sheets', to: '/sheets' }}
            >
              Check the network, then reload this page. Bench sheets can be entered without it.
            </Blank>
          }
        />
      </Routes>
    </Suspense>
  );
}
