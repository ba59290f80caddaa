export const exposure = {
  value: (ev100: string, shutter: string) => `EV ${ev100} · ${shutter}`,
  exposure: (told: string) => `Exposure: ${told}`,
  exposureChange: "Exposure",
  shutterTime: "Shutter time",
  iso: "ISO",
  meterTheFrame: "Meter the frame",
  theProofIsDeveloped:
    "The proof is developed for this. Changing the stop changes the time with it, so that the exposure stays.",
};
