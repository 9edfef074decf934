"""What no reading may do, and how usual it is: where one is not believed, it is asked."""
