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
const adjusters = (turned) => {
  const names = Object.keys(turned)
  if (at('adjusters').dataset.values !== String(names)) {
    at('adjusters').dataset.values = String(names)
    at('adjusters').replaceChildren(
      ...names.map((name) => {
        const [left, right, stands, all] = ['button', 'button', 'output', 'span'].map((kind) => document.createElement(kind))
        left.textContent = '−'
        right.textContent = '+'
        left.onclick = () => send({ turn: { [name]: -0.25 } })
        right.onclick = () => send({ turn: { [name]: 0.25 } })
        stands.dataset.adjuster = name
        all.append(`${name} `, left, stands, right)
        return all
      }),
    )
  }
  for (const stands of document.querySelectorAll('[data-adjuster]')) stands.value = ` ${turned[stands.dataset.adjuster].toFixed(2)} `
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
  for (const name of ['channel', 'supply_v', 'load_swr', 'drive_w', 'generator_dbm']) if (document.activeElement !== at(name)) at(name).value = state.hands[name]
  adjusters(state.adjusters)
  at('own').textContent = `its own meter shows ${state.own_meter_w} W${state.receiver.s_units === undefined ? '' : `, S ${state.receiver.s_units.toFixed(1)}`}`
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
for (const name of ['channel', 'supply_v', 'load_swr', 'drive_w']) at(name).onchange = () => send({ [name]: Number(at(name).value) })
at('generator_dbm').onchange = () => send({ generator_dbm: at('generator_dbm').value === '' ? null : Number(at('generator_dbm').value) })
setInterval(async () => show(await (await fetch('/state')).json()), 500)
