document.title = 'Yellow Spool';
