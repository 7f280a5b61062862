document.title = 'Crosspeen';
