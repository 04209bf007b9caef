/** The package ships no types; of it only reading is used, as a reference. */
declare module 'bpmn-moddle' {
  export class BpmnModdle {
    fromXML(xml: string): Promise<{ warnings: readonly unknown[] }>
  }
}
