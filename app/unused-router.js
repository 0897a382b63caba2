/**
 * Stands for what Expo Router's entry brings and this application never shows: stack and tab layouts, headers, the
 * development error screen
 * (every layout here has its own), native tabs. Without it they are a tenth of every first page.
 */
import { createContext } from 'react';

export const Stack = undefined;
export const Tabs = undefined;
export const ErrorBoundary = undefined;
export const NativeTabTrigger = undefined;
export const BottomTabBarHeightContext = createContext(0);
export const createNativeStackNavigator = () => ({ Navigator: () => null });
export const Toast = () => null;
export const ToastWrapper = () => null;
export const featureFlags = { experiment: {} };
