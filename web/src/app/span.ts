/** Whether a time from one moment until another would end before it begins. */
export const backwards = ({ from, until }: { from: string | null; until: string | null }) =>
  from !== null && until !== null && until <= from;
