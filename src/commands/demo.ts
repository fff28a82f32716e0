console.log('no demo yet');
