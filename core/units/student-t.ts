import jStat from 'jstat'

/** The value that a Student's t of so many degrees of freedom (1 or more) stays below with this probability (0 to 1). */
export const studentTQuantile = (probability: number, freedom: number): number =>
  jStat.studentt.inv(probability, freedom)
