import './src/noEval'
import 'expo-router/entry'
