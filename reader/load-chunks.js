// Teaches Metro's import() to fetch the chunks that come after the passcode; in the office's app expo-router does it.
import 'expo/src/async-require';
