<!-- The window goes on from here to where the project was left, as soon as it is open. -->
