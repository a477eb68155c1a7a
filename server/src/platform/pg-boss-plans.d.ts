declare module 'pg-boss/src/plans.js' {
  /** The statements of pg-boss, by the schema of its tables. */
  const plans: { completeJobs(schema: string): string; failJobsById(schema: string): string };
  export default plans;
}
