import {
  AlwaysStencilFunc,
  BackSide,
  Color,
  DecrementWrapStencilOp,
  DoubleSide,
  FrontSide,
  IncrementWrapStencilOp,
  Mesh,
  MeshBasicMaterial,
  MeshLambertMaterial,
  NotEqualStencilFunc,
  type OrthographicCamera,
  type Plane,
  PlaneGeometry,
  Scene as Space,
  ShaderMaterial,
  Vector3,
  type WebGLRenderer,
} from 'three';

/** Where the bodies are drawn for counting, besides where everything is. */
const BODIES = 1;
/** Distance of the hatching's lines and their width, px. */
const HATCH = { apart: 8, wide: 1.3 };

const counting = (side: typeof BackSide | typeof FrontSide, op: typeof IncrementWrapStencilOp | typeof DecrementWrapStencilOp): MeshBasicMaterial =>
  new MeshBasicMaterial({
    side,
    depthWrite: false,
    depthTest: false,
    colorWrite: false,
    stencilWrite: true,
    stencilFunc: AlwaysStencilFunc,
    stencilFail: op,
    stencilZFail: op,
    stencilZPass: op,
  });

/**
 * Faces where bodies are cut, hatched as drawings do: of every body the back faces less the front
 * faces are counted in the stencil; where some are left over, the plane lies inside a body.
 */
export class CutFaces {
  private readonly back = counting(BackSide, IncrementWrapStencilOp);
  private readonly front = counting(FrontSide, DecrementWrapStencilOp);
  private readonly face = new ShaderMaterial({
    side: DoubleSide,
    uniforms: { ink: { value: new Color() }, paper: { value: new Color() }, ratio: { value: 1 } },
    vertexShader: 'void main() { gl_Position = projectionMatrix * modelViewMatrix * vec4(position, 1.0); }',
    fragmentShader: `
      uniform vec3 ink;
      uniform vec3 paper;
      uniform float ratio;
      void main() {
        float d = mod(gl_FragCoord.x + gl_FragCoord.y, ${HATCH.apart.toFixed(1)} * ratio);
        gl_FragColor = vec4(mix(ink, paper, step(${HATCH.wide.toFixed(1)} * ratio, d)), 1.0);
        #include <colorspace_fragment>
      }`,
    stencilWrite: true,
    stencilRef: 0,
    stencilFunc: NotEqualStencilFunc,
  });
  private readonly plane = new Mesh(new PlaneGeometry(1, 1), this.face);
  private readonly alone = new Space();
  private readonly z = new Vector3(0, 0, 1);

  constructor() {
    this.plane.frustumCulled = false;
    this.alone.add(this.plane);
  }

  theme(ink: string, paper: string): void {
    (this.face.uniforms['ink'].value as Color).set(ink);
    (this.face.uniforms['paper'].value as Color).set(paper);
  }

  /** Takes note of what bodies there are, whenever others are shown. */
  note(space: Space): void {
    space.traverse((o) => {
      if ((o as Mesh).isMesh && (o as Mesh).material instanceof MeshLambertMaterial) o.layers.enable(BODIES);
    });
  }

  /** Draws everything, cut at a plane of the renderer, with the hatched faces. `size`: larger than what there is, mm. */
  draw(renderer: WebGLRenderer, space: Space, camera: OrthographicCamera, cut: Plane, size: number): void {
    renderer.autoClear = false;
    renderer.clear();
    camera.layers.set(BODIES);
    for (const material of [this.back, this.front]) {
      space.overrideMaterial = material;
      renderer.render(space, camera);
    }
    space.overrideMaterial = null;
    camera.layers.set(0);
    renderer.render(space, camera);
    cut.coplanarPoint(this.plane.position);
    this.plane.quaternion.setFromUnitVectors(this.z, cut.normal);
    this.plane.scale.setScalar(size);
    this.face.uniforms['ratio'].value = renderer.getPixelRatio();
    const planes = renderer.clippingPlanes;
    renderer.clippingPlanes = [];
    renderer.render(this.alone, camera);
    renderer.clippingPlanes = planes;
    renderer.autoClear = true;
  }

  dispose(): void {
    for (const m of [this.back, this.front, this.face]) m.dispose();
    this.plane.geometry.dispose();
  }
}
