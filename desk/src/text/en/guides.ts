export const guides = {
  guide: (words: string) => `Guide: ${words}`,
  marginOfEachSide: "Margin of each side",
  guideMargin: "Guide: Margin",
};
