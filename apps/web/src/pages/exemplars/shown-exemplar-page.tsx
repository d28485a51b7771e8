import { useParams } from 'react-router';
import type { ShownExemplar } from '@ypsigraph/contract/showings';
import { EXEMPLARS } from '@ypsigraph/core/exemplar/exemplars';
import { FAULT_WORDS } from '@ypsigraph/core/exemplar/fault-words';
import { capital } from '@ypsigraph/core/say/words';
import { useShownExemplars } from '../../api/data.ts';
import { Empty, Failed, Waiting } from '../../kit/states.tsx';
import { FigureMoving } from '../figure-moving.tsx';
import { ShownHead } from '../shown-head.tsx';
import { useFaultyExemplar } from './faulty-exemplar.ts';

/** What is wrong with it, in words: those of the fault, or its name where this version knows it no more. */
export const faultOf = ({ fault }: Pick<ShownExemplar, 'fault'>): string => FAULT_WORDS[fault]?.say ?? fault;

/** An exemplar with a fault beside one way to do it, as its cohort is shown it. */
export function ShownExemplarPage() {
  const { id } = useParams();
  const { data, error } = useShownExemplars();
  if (error && !data) return <Failed error={error} />;
  if (!data) return <Waiting />;
  const shown = data.find((own) => own.id === id);
  if (!shown || !EXEMPLARS[shown.exemplar])
    return <Empty title="It is not shown any more">What is shown to your cohort stands under Shown.</Empty>;
  return <Page shown={shown} />;
}

const NOTHING_SET = {};

function Page({ shown }: { shown: ShownExemplar }) {
  const { made, cured } = useFaultyExemplar(shown.exemplar, NOTHING_SET, { [shown.fault]: shown.size }, true);
  return (
    <main className="mx-auto max-w-5xl px-6 py-4">
      <ShownHead title={`${capital(shown.exemplar)}: ${faultOf(shown)}`} words={shown.words} />
      <div className="mt-3">
        {typeof made === 'object' && (
          <FigureMoving
            shot={made.shot}
            steps
            tall
            beside={{ shot: cured ?? '', captions: ['with the fault', 'one way to do it'] }}
          />
        )}
        {typeof made === 'string' && <p role="alert">It can’t be made so: {made}.</p>}
      </div>
    </main>
  );
}
