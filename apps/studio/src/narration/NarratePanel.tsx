import { useEffect } from 'react';
import { Dock } from '../look/Dock';
import { closePanel, usePanel } from '../open/panels';
import { Before, BeforeButtons } from './Before';
import { closeMicrophone, openMicrophone, useNarration } from './narration';
import { During, DuringButtons } from './During';
import { Taken, TakenButtons } from './Taken';

/** A narration spoken over the piece: the microphone and its check, the countdown, the recording, and its takes. */
export function NarratePanel() {
  const open = usePanel((s) => s.panel?.name === 'narrate');
  return open ? <Panel /> : null;
}

function Panel() {
  const phase = useNarration((s) => s.phase);
  useEffect(() => {
    void openMicrophone();
    return closeMicrophone;
  }, []);
  const going = phase === 'counting' || phase === 'recording' || phase === 'ending';
  const [Part, Buttons] = going ? [During, DuringButtons] : phase === 'taken' ? [Taken, TakenButtons] : [Before, BeforeButtons];
  return (
    <Dock title="Narration" onClose={closePanel} testID="narrate-panel" footer={<Buttons />}>
      <Part />
    </Dock>
  );
}
