/**
 * The system's dimensions in micrometres, so that sums stay integers. Common practice: stud pitch 8 mm,
 * plate height 3.2 mm, brick height 9.6 mm (three plates).
 */
export const STUD_UM = 8000
export const PLATE_UM = 3200
export const BRICK_PLATES = 3
export const BRICK_UM = PLATE_UM * BRICK_PLATES

/** Millimetres of a length in studs, exact to a tenth. */
export const studsToMm = (studs: number): number => (studs * STUD_UM) / 1000

/** Millimetres of a height in plates, exact to a tenth. */
export const platesToMm = (plates: number): number => (plates * PLATE_UM) / 1000
