// Plays a tool's way: what is cut by the time the slider stands at, and where the tool is then.
const ways = () => document.getElementById('ways');
const player = document.getElementById('player');
let playing = null;

const clock = (seconds) => {
  const whole = Math.round(seconds);
  return whole < 60 ? `${whole} s` : `${Math.floor(whole / 60)} min ${whole % 60} s`;
};

function stand(path, share) {
  path.style.strokeDasharray = share >= 1 ? '' : `${share} 2`;
  path.style.visibility = share > 0 ? 'visible' : 'hidden';
  return share > 0 && share < 1 ? path.getPointAtLength(path.getTotalLength() * share) : null;
}

const share = (now, from, to) => (now >= to ? 1 : now <= from ? 0 : (now - from) / (to - from));

function show(now) {
  const all = Number(ways().dataset.seconds);
  let at = null, doing = now >= all ? 'all of it' : 'travelling';
  for (const way of ways().querySelectorAll('[data-off]')) {
    const [off, down, up] = ['off', 'down', 'up'].map((name) => Number(way.dataset[name]));
    const travel = way.querySelector('.travel');
    const onWay = stand(travel, share(now, off, down));
    travel.style.opacity = now >= down ? 0.25 : 1;
    const cutting = stand(way.querySelector('.way'), share(now, down, up));
    if (now < all && (onWay || cutting)) at = onWay || cutting;
    if (cutting) doing = 'cutting';
  }
  const tip = document.getElementById('tip');
  tip.toggleAttribute('hidden', !at);
  if (at) tip.setAttribute('transform', `translate(${at.x} ${at.y})`);
  ways().classList.toggle('running', now < all);
  player.querySelector('[data-clock]').textContent = clock(now);
  player.querySelector('[data-doing]').textContent = doing;
  player.querySelector('[data-time]').value = all ? (1000 * now) / all : 1000;
}

function stop() {
  cancelAnimationFrame(playing);
  playing = null;
  player.querySelector('[data-play]').textContent = '▶';
}

// A whole path plays in at most twenty seconds.
function play() {
  const all = Number(ways().dataset.seconds), rate = Math.max(1, all / 20);
  const slider = player.querySelector('[data-time]');
  const from = slider.value >= 1000 ? 0 : (slider.value / 1000) * all;
  const began = performance.now();
  const step = (time) => {
    const now = from + (rate * (time - began)) / 1000;
    show(Math.min(now, all));
    if (now >= all) stop(); else playing = requestAnimationFrame(step);
  };
  player.querySelector('[data-play]').textContent = '❚❚';
  playing = requestAnimationFrame(step);
}

if (player) {
  player.querySelector('[data-play]').addEventListener('click', () => (playing ? stop() : play()));
  player.querySelector('[data-time]').addEventListener('input', (event) => {
    stop();
    show((event.target.value / 1000) * Number(ways().dataset.seconds));
  });
}
