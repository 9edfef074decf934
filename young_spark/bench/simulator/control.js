const at = (id) => document.getElementById(id)
const send = async (what) => {
  const answer = await fetch('/do', { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(what) })
  show(await answer.json())
}
const choices = (select, values, now, name) => {
  if (select.dataset.values !== String(values)) {
    select.replaceChildren(...values.map((value) => new Option(value, value)))
    select.dataset.values = String(values)
    select.onchange = () => send({ [name]: select.value })
  }
  if (document.activeElement !== select) select.value = now
}
function show(state) {
  if (state.problem !== undefined) {
    at('state').textContent = state.problem
    return
  }
  choices(at('kind'), state.kinds, state.hands.kind, 'kind')
  choices(at('fault'), state.faults, state.hands.fault, 'fault')
  choices(at('build'), Object.keys(state.builds), state.hands.build, 'build')
  choices(at('inside'), state.insides, state.hands.inside, 'inside')
  at('points').textContent = Object.entries(state.points).map(([name, read]) => `${name}: ${read}`).join('\n')
  choices(at('mode'), state.modes, state.hands.mode, 'mode')
  for (const name of ['channel', 'supply_v', 'load_swr']) if (document.activeElement !== at(name)) at(name).value = state.hands[name]
  if (at('lines').childElementCount === 0) {
    for (const name of Object.keys(state.lines)) {
      const select = document.createElement('select')
      select.id = `line-${name}`
      at('lines').append(`${name} `, select, ' ')
    }
  }
  for (const [name, fault] of Object.entries(state.lines)) {
    const select = at(`line-${name}`)
    choices(select, state.line_faults, fault, 'line')
    select.onchange = () => send({ line: name, fault_of_line: select.value })
  }
  at('state').textContent = JSON.stringify({ ...state.hands, out: state.out }, null, 1)
}
for (const button of document.querySelectorAll('[data-do]')) button.onclick = () => send(JSON.parse(button.dataset.do))
at('key').onclick = () => send({ keyed: true })
for (const name of ['channel', 'supply_v', 'load_swr']) at(name).onchange = () => send({ [name]: Number(at(name).value) })
setInterval(async () => show(await (await fetch('/state')).json()), 500)
