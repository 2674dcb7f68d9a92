import '@fontsource-variable/atkinson-hyperlegible-next'
import 'rapidoc'
