import { SeamPanel } from '../seam/SeamPanel';
import { LookPanel } from '../shelf/LookPanel';
import { FullScreen } from './FullScreen';
import { GesturesPanel } from './GesturesPanel';
import { HistoryPanel } from './HistoryPanel';
import { MarkersPanel } from './MarkersPanel';
import { MorePanel } from './MorePanel';
import { KeysPanel, SearchPanel } from './SearchPanel';
import { TrackPanel } from './TrackPanel';

/** Whatever stands open over the editor; each knows by itself whether it does. */
export function Panels() {
  return (
    <>
      <FullScreen />
      <GesturesPanel />
      <HistoryPanel />
      <KeysPanel />
      <LookPanel />
      <MarkersPanel />
      <MorePanel />
      <SeamPanel />
      <SearchPanel />
      <TrackPanel />
    </>
  );
}
