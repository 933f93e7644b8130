import { lazy, Suspense } from "react";
import { Route, Routes } from "react-router";

import { Door } from "./account/Door";
import { useResend } from "./field/useResend";
import { Tour } from "./tour/Tour";
import { ShareSheet } from "./sharing/ShareSheet";
import { useTellFull } from "./shell/useTellFull";
import { LoadingTrouble } from "./shell/LoadingTrouble";
import { Loading, NotHere } from "./shell/states";

const HomePage = lazy(() => import("./home/HomePage"));
const BeginPage = lazy(() => import("./begin/BeginPage"));
const PhotographPage = lazy(() => import("./begin/PhotographPage"));
const PlacesPage = lazy(() => import("./places/PlacesPage"));
const MapPage = lazy(() => import("./map/MapPage"));
const KitPage = lazy(() => import("./kit/KitPage"));
const WorkbenchPage = lazy(() => import("./workbench/WorkbenchPage"));
const FieldPage = lazy(() => import("./field/FieldPage"));
const SpotPage = lazy(() => import("./field/SpotPage"));
const SoftPage = lazy(() => import("./field/SoftPage"));
const OutingsPage = lazy(() => import("./outings/OutingsPage"));
const OutingPage = lazy(() => import("./outings/OutingPage"));
const OnTheWayPage = lazy(() => import("./outings/OnTheWayPage"));
const PackPage = lazy(() => import("./outings/PackPage"));
const CardsPage = lazy(() => import("./outings/CardsPage"));
const LogbookPage = lazy(() => import("./logbook/LogbookPage"));
const TakePage = lazy(() => import("./logbook/TakePage"));
const ReviewPage = lazy(() => import("./review/ReviewPage"));
const PracticePage = lazy(() => import("./practice/PracticePage"));
const SettingsPage = lazy(() => import("./settings/SettingsPage"));
const SharedPage = lazy(() => import("./sharing/SharedPage"));
const OneSharePage = lazy(() => import("./sharing/OneSharePage"));
const BoardPage = lazy(() => import("./board/BoardPage"));
const JobsPage = lazy(() => import("./jobs/JobsPage"));
const JoinPage = lazy(() => import("./account/JoinPage"));
const PairPage = lazy(() => import("./account/PairPage"));
const TrustPage = lazy(() => import("./account/TrustPage"));
const MeasurePage = lazy(() => import("./measure/MeasurePage"));
const WordsPage = lazy(() => import("./words/WordsPage"));

export function App() {
  useResend();
  useTellFull();
  return (
    <LoadingTrouble>
      <Suspense fallback={<Loading what="the page" />}>
        <Door>
          <Routes>
            <Route path="/" element={<HomePage />} />
            <Route path="/begin" element={<BeginPage />} />
            <Route path="/begin/photograph" element={<PhotographPage />} />
            <Route path="/places" element={<PlacesPage />} />
            <Route path="/map" element={<MapPage />} />
            <Route path="/kit" element={<KitPage />} />
            <Route path="/compositions/:id" element={<WorkbenchPage />} />
            <Route path="/field/:id" element={<FieldPage />} />
            <Route path="/field/:id/spot" element={<SpotPage />} />
            <Route path="/field/:id/soft" element={<SoftPage />} />
            <Route path="/outings" element={<OutingsPage />} />
            <Route path="/outings/:id" element={<OutingPage />} />
            <Route path="/outings/:id/way" element={<OnTheWayPage />} />
            <Route path="/outings/:id/pack" element={<PackPage />} />
            <Route path="/outings/:id/cards" element={<CardsPage />} />
            <Route path="/logbook" element={<LogbookPage />} />
            <Route path="/logbook/:id" element={<TakePage />} />
            <Route path="/review" element={<ReviewPage />} />
            <Route path="/practice" element={<PracticePage />} />
            <Route path="/settings" element={<SettingsPage />} />
            <Route path="/shared" element={<SharedPage />} />
            <Route path="/shared/:id" element={<OneSharePage />} />
            <Route path="/board" element={<BoardPage />} />
            <Route path="/jobs" element={<JobsPage />} />
            <Route path="/pair" element={<PairPage />} />
            <Route path="/trust" element={<TrustPage />} />
            <Route path="/measure" element={<MeasurePage />} />
            <Route path="/join" element={<JoinPage />} />
            <Route path="/words" element={<WordsPage />} />
            <Route path="*" element={<NotHere />} />
          </Routes>
          <Tour />
          <ShareSheet />
        </Door>
      </Suspense>
    </LoadingTrouble>
  );
}
