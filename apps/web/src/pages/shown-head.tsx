import { Link } from 'react-router';

/** The head of what a cohort is shown: the way back to all of it, what it is, and what to look at. */
export const ShownHead = ({ title, words }: { title: string; words: string | undefined }) => (
  <>
    <p className="text-sm">
      <Link to="/shown" className="underline underline-offset-2">
        Shown
      </Link>
    </p>
    <h1 className="text-2xl">{title}</h1>
    {words && <p className="max-w-prose">{words}</p>}
  </>
);
