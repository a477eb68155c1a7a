/** Made-up people of Fennmoor College. Nobody of these names is meant. */

const FIRST = [
  'Mina',
  'Jonas',
  'Aiyana',
  'Tariq',
  'Svea',
  'Kofi',
  'Lucía',
  'Haruto',
  'Zofia',
  'Emre',
  'Naledi',
  'Piet',
  'Anouk',
  'Rohan',
  'Ingrid',
  'Mateus',
  'Yara',
  'Declan',
  'Sakura',
  'Bogdan',
  'Fatou',
  'Elias',
  'Mei',
  'Oskar',
  'Priya',
  'Thabo',
  'Léonie',
  'Arvid',
  'Ximena',
  'Samir',
  'Katya',
  'Bram',
  'Noa',
  'Iker',
  'Agnieszka',
  'Tomi',
  'Leila',
  'Finn',
  'Chidi',
  'Ronja',
  'Dao',
  'Marek',
  'Amara',
  'Jari',
  'Selin',
];
const LAST = [
  'Kovarik',
  'Brandsma',
  'Oyelaran',
  'Haddadi',
  'Lindroos',
  'Mensahene',
  'Quiroga',
  'Tanabe',
  'Wilczek',
  'Yıldıran',
  'Mokoro',
  'de Waard',
  'Fontanel',
  'Deshmane',
  'Solbakken',
  'Carvalhal',
  'Nasri',
  'O’Meara',
  'Fujimori',
  'Radulesco',
  'Diallou',
  'Achterberg',
  'Zhao-Lin',
  'Grönholm',
  'Raghavane',
  'Dlaminor',
  'Marchandise',
  'Ekdahl',
  'Ibarrola',
  'Benhadji',
  'Sorokine',
  'Verhulst',
  'Levisohn',
  'Etxeberro',
  'Nowicka',
  'Pulkkila',
  'Farahani',
  'Gallagh',
  'Okonjuwe',
  'Weidner',
  'Saetang',
  'Hruska',
  'Ndiayé',
  'Koskimaa',
  'Aksoyan',
];

export interface SamplePerson {
  readonly key: string;
  readonly kind: 'teacher' | 'student' | 'office';
  readonly name: string;
  readonly email: string;
}

function mail(name: string): string {
  const plain = name
    .normalize('NFD')
    .replace(/\p{M}/gu, '')
    .replace(/ı/gu, 'i')
    .toLowerCase()
    .replace(/[^a-z]+/gu, '.');
  return `${plain}@fennmoor.example`;
}

function person(kind: SamplePerson['kind'], key: string, name: string): SamplePerson {
  return { key, kind, name, email: mail(name) };
}

export const STAFF = {
  ilse: person('teacher', 'ilse', 'Ilse Vandermoor'),
  tomasz: person('teacher', 'tomasz', 'Tomasz Adeyomi'),
  noor: person('teacher', 'noor', 'Noor Castellan'),
  office: person('office', 'office', 'Harriet Lindqvast'),
};

/** Ninety students, each of another name. */
export const STUDENTS: readonly SamplePerson[] = Array.from({ length: 90 }, (_, n) => {
  const round = Math.floor(n / FIRST.length);
  const name = `${FIRST[n % FIRST.length]} ${LAST[(n + round * 17) % LAST.length]}`;
  return person('student', `student-${n}`, name);
});
