/** How many gauges were judged on a revision, and how: of a row `v` of verdicts that is there. */
export const VERDICT_COUNTS =
  "json_build_object('inside', v.inside, 'near', v.near, 'outside', v.outside, 'unjudged', v.unjudged)";
