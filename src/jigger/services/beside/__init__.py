"""Work done beside what a person waits for, in other processes."""
