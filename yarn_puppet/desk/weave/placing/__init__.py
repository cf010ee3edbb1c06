"""Where everything of the weave stands, and how its threads run: functions of the puppet, without
Qt."""
