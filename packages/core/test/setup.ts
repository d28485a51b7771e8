import fc from 'fast-check';

// The same cases in every run, so that a run can be repeated; FC_SEED=random or a number looks at others.
const seed = process.env.FC_SEED ?? '20261124';
if (seed !== 'random') fc.configureGlobal({ seed: Number(seed) });
