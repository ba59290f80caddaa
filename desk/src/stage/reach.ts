/** How far around the camera the finder draws shadows, in metres. */
export const metresAround = 26;
