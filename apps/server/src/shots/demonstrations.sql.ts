/** That shot `s` is a student's: what those who teach have made to show how is handed in by nobody and waits for nobody. */
export const OF_A_STUDENT = 'NOT EXISTS (SELECT 1 FROM demonstrations dm WHERE dm.shot_id = s.id)';
