UPDATE job SET urgency = 5;
