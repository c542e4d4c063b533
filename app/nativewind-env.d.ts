/// <reference types="nativewind/types" />

import "react-native";

declare module "react-native" {
  interface TextProps {
    /** On the web: data attributes. */
    dataSet?: Record<string, string>;
  }
}
