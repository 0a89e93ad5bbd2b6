import { CaptionsPanel } from '../captions/CaptionsPanel';
import { CoverPanel } from './CoverPanel';
import { FieldsPanel } from './FieldsPanel';
import { FramingPanel } from '../framing/FramingPanel';
import { LooksPanel } from '../looks/LooksPanel';
import { NarratePanel } from '../narration/NarratePanel';
import { LoudnessPanel } from './LoudnessPanel';
import { TransitionPanel } from '../seam/TransitionPanel';
import { PausesPanel } from './PausesPanel';
import { SpeedPanel } from '../speed/SpeedPanel';
import { StickersPanel } from '../titles/StickersPanel';
import { TitlePanel } from '../titles/TitlePanel';
import { UnderPanel } from './UnderPanel';
import { usePanel } from '../open/panels';

const DOCKED: readonly string[] = [
  'captions',
  'cover',
  'fields',
  'framing',
  'looks',
  'loudness',
  'narrate',
  'pauses',
  'speed',
  'stickers',
  'title',
  'transition',
  'under',
];

/** Whether a panel is open that stands beside the timeline and not over it. */
export const useDocked = () => usePanel((s) => s.panel !== null && DOCKED.includes(s.panel.name));

/** The panels that stand beside the timeline; each knows by itself whether it is open. */
export function Docked() {
  return (
    <>
      <CaptionsPanel />
      <CoverPanel />
      <FieldsPanel />
      <FramingPanel />
      <LooksPanel />
      <LoudnessPanel />
      <NarratePanel />
      <PausesPanel />
      <SpeedPanel />
      <StickersPanel />
      <TitlePanel />
      <TransitionPanel />
      <UnderPanel />
    </>
  );
}
