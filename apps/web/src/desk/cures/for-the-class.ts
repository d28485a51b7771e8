import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { cureWorker } from '../../workers/cure.ts';
import { useReview } from '../review.ts';
import { askedOf } from './use-cured.ts';

/** Leads to an exemplar with as much of a fault, beside one way to do it, to be shown to the cohort: nobody's shot. */
export function useForTheClass(): (reading: string, part: string | undefined) => Promise<void> {
  const review = useReview();
  const navigate = useNavigate();
  return async (reading, part) => {
    const asked = askedOf(review);
    const like = asked && (await cureWorker().exemplarLike(asked, reading, part));
    if (!like) return void toast('No exemplar shows this fault.');
    const { exemplar, fault, size } = like;
    const params = new URLSearchParams({ fault, size: String(size), cure: '', cohort: review.shot.cohort.id });
    void navigate(`/exemplars/${exemplar}?${params}`);
  };
}
