/**
 * The system's dimensions in micrometres, so that sums stay integers. Common practice: stud pitch 8 mm,
 * plate height 3.2 mm; a brick is three plates high.
 */
export const STUD_UM = 8000
export const PLATE_UM = 3200

/** Millimetres of a length in studs, exact to a tenth. */
export const studsToMm = (studs: number): number => (studs * STUD_UM) / 1000

/** Millimetres of a height in plates, exact to a tenth. */
export const platesToMm = (plates: number): number => (plates * PLATE_UM) / 1000
