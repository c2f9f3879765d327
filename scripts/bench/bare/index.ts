import 'expo-router/entry'
