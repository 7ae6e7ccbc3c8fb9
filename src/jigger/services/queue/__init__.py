"""From a tool path to a machine: stations, what is looked at before, the queue, what is looked at after."""
