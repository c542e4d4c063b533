import { useWindowDimensions } from "react-native";

/** Room for the stage rail at the left and panels side by side. */
export const useWide = (): boolean => useWindowDimensions().width >= 900;
