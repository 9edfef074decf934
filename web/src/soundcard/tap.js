// Runs beside the page, where the sound comes: hands it over in blocks, and changes nothing of it.
/* global AudioWorkletProcessor, registerProcessor */
const BLOCK = 2048 // samples

class Tap extends AudioWorkletProcessor {
  constructor() {
    super()
    this.block = new Float32Array(BLOCK)
    this.filled = 0
  }

  process([input]) {
    const heard = input[0]
    if (heard === undefined) return true
    for (const sample of heard) {
      this.block[this.filled++] = sample
      if (this.filled === BLOCK) {
        this.port.postMessage(this.block.slice())
        this.filled = 0
      }
    }
    return true
  }
}

registerProcessor('tap', Tap)
