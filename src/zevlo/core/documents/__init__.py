"""Documents of a shot list, laid out on paper: contact sheets, shot lists, plans, camera cards."""
