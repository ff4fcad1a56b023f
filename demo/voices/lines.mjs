// Invented for the demo. No real person, place, film or brand.
export const voices = [
  {
    file: 'ottilie-deck',
    voice: 'en-gb+f3',
    speed: 150,
    pitch: 42,
    lines: [
      'My mother kept the ferry before me, and her uncle before her.',
      'You learn the chain first. You learn it with your hands, long before anyone lets you near the lever.',
      'On a still morning it only hums. When the river is high, it talks back.',
      'People ask what I will miss. I tell them, the sound of it stopping.',
    ],
  },
  {
    file: 'ottilie-winch',
    voice: 'en-gb+f3',
    speed: 145,
    pitch: 40,
    lines: [
      'This drum is older than the road. Put your palm there. Feel that?',
      'We grease it on Sundays, whether it wants it or not.',
      'Corin says it sings. I say it complains.',
    ],
  },
  {
    file: 'corin-winch',
    voice: 'en-gb-x-rp+m4',
    speed: 158,
    pitch: 30,
    lines: [
      'It does sing. Low, mind you, but it keeps the tune.',
      'I came for one summer, and that was nineteen summers ago.',
      'Somebody has to hold the rope. It might as well be me.',
    ],
  },
  {
    file: 'narrator',
    voice: 'en-us+m2',
    speed: 140,
    pitch: 36,
    lines: [
      'At Alder Reach the road runs down into the water, and comes up again on the other side.',
      'Between the two there is a chain, a deck of oak, and a woman with a lever.',
      'This is the last summer that anyone will wait for her.',
    ],
  },
  {
    file: 'lock-office',
    voice: 'en-gb-scotland+f2',
    speed: 155,
    pitch: 48,
    lines: [
      'We log every crossing. Time, load, level of the water, and who was at the lever.',
      'There were days with four hundred, once. Last Tuesday there were six.',
      'When the bridge opens, this book closes. That is how it was put to me.',
    ],
  },
];
